import { type Block, type CancelSignal, framesOf, type Source } from '../signal/signal.ts';

const ENOUGH_TONE_SECONDS = 10;

interface Stretch {
  startSeconds: number;
  endSeconds: number;
}

/** The samples of the best stretches, a few seconds in all. */
export function roomToneStretches(
  source: Source,
  roomTone: readonly Stretch[],
  signal?: CancelSignal,
): Promise<Block[]> {
  let left = ENOUGH_TONE_SECONDS;
  const wanted: Stretch[] = [];
  for (const { startSeconds, endSeconds } of roomTone) {
    const seconds = Math.min(left, endSeconds - startSeconds);
    if (seconds * source.format.sampleRateHz < 2) break;
    left -= seconds;
    wanted.push({ startSeconds, endSeconds: startSeconds + seconds });
  }
  return readStretches(source, wanted, { signal });
}

/**
 * The samples of some stretches of a source, in one reading; what lies outside of it is silent.
 * @param heard hears every block with the frame that it begins at; then the source is read to its end
 */
export async function readStretches(
  source: Source,
  stretches: readonly Stretch[],
  { signal, heard }: { signal?: CancelSignal; heard?: (block: Block, start: number) => void } = {},
): Promise<Block[]> {
  const { sampleRateHz, channels } = source.format;
  const wanted = stretches.map(({ startSeconds, endSeconds }) => {
    const start = Math.round(startSeconds * sampleRateHz);
    const frames = Math.max(0, Math.round(endSeconds * sampleRateHz) - start);
    return { start, samples: Array.from({ length: channels }, () => new Float32Array(frames)) };
  });
  const last = wanted.reduce((most, { start, samples }) => Math.max(most, start + samples[0].length), 0);
  let at = 0;
  for await (const block of source.blocks({ signal })) {
    signal?.throwIfAborted();
    const end = at + framesOf(block);
    for (const { start, samples } of wanted) {
      const from = Math.max(start, at);
      const to = Math.min(start + samples[0].length, end);
      if (from < to) samples.forEach((into, c) => into.set(block[c].subarray(from - at, to - at), from - start));
    }
    heard?.(block, at);
    at = end;
    if (!heard && at >= last) break;
  }
  return wanted.map(({ samples }) => samples);
}

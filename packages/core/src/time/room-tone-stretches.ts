import { type Block, type CancelSignal, framesOf, type Source } from '../signal/signal.ts';

const ENOUGH_TONE_SECONDS = 10;

/** The samples of the best stretches, a few seconds in all. */
export async function roomToneStretches(
  source: Source,
  roomTone: readonly { startSeconds: number; endSeconds: number }[],
  signal?: CancelSignal,
): Promise<Block[]> {
  const { sampleRateHz, channels } = source.format;
  let left = Math.round(ENOUGH_TONE_SECONDS * sampleRateHz);
  const wanted: { start: number; samples: Float32Array[] }[] = [];
  for (const { startSeconds, endSeconds } of roomTone) {
    const start = Math.round(startSeconds * sampleRateHz);
    const frames = Math.min(left, Math.round(endSeconds * sampleRateHz) - start);
    if (frames < 2) break;
    left -= frames;
    wanted.push({ start, samples: Array.from({ length: channels }, () => new Float32Array(frames)) });
  }
  const last = Math.max(0, ...wanted.map(({ start, samples }) => start + samples[0].length));
  let at = 0;
  for await (const block of source.blocks({ signal })) {
    const end = at + framesOf(block);
    for (const { start, samples } of wanted) {
      const from = Math.max(start, at);
      const to = Math.min(start + samples[0].length, end);
      if (from < to) samples.forEach((to_, c) => to_.set(block[c].subarray(from - at, to - at), from - start));
    }
    at = end;
    if (at >= last) break;
  }
  return wanted.map(({ samples }) => samples);
}

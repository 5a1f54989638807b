import { Resampler } from '../dsp/resampler.ts';
import { changeLayout } from '../signal/change-layout.ts';
import { SignalError } from '../signal/errors.ts';
import {
  type Block,
  type CancelSignal,
  framesOf,
  type SignalFormat,
  type Sink,
  type Source,
} from '../signal/signal.ts';
import { AimMeter, aimOf } from './aim.ts';
import type { TargetFile } from './target-file.ts';

/** Opus knows one rate only. */
const OPUS_RATE_HZ = 48000;

export const deliveredFormat = ({ output }: TargetFile, source: SignalFormat): SignalFormat => ({
  sampleRateHz: output.container === 'opus' ? OPUS_RATE_HZ : (output.sampleRateHz ?? source.sampleRateHz),
  channels: output.channels ?? source.channels,
  speakers: (output.channels ?? source.channels) === source.channels ? source.speakers : undefined,
});

/** What the laid-out signal measures; null where the target aims for no level. */
export interface LaidOut {
  heardDb: number | null;
  /** Sample peak. */
  peakDb: number;
}

/** Changes layout and rate, writes to `sink`, and answers the level of the measure aimed for. */
export async function layOut(
  source: Source,
  sink: Sink,
  target: TargetFile,
  options: { signal?: CancelSignal; progress?: (frames: number) => void } = {},
): Promise<LaidOut> {
  const format = deliveredFormat(target, source.format);
  const resampler =
    format.sampleRateHz === source.format.sampleRateHz
      ? undefined
      : new Resampler(source.format.sampleRateHz, format.sampleRateHz, format.channels);
  const aim = aimOf(target.limits);
  const meter = new AimMeter(aim?.measure, format);
  const take = async (block: Block) => {
    if (!framesOf(block)) return;
    meter.hear(block);
    await sink.write(block);
  };
  for await (const block of source.blocks({ signal: options.signal })) {
    const laidOut = changeLayout(block, source.format, format.channels);
    await take(resampler ? resampler.push(laidOut) : laidOut);
    options.progress?.(framesOf(block));
  }
  if (resampler) await take(resampler.flush());
  const { levelDb, peakDb, silent } = meter.conclude();
  if (silent)
    throw new SignalError('silence', 'The sound is digital silence: there is no level to bring to the target.');
  if (!aim) return { heardDb: null, peakDb };
  if (!Number.isFinite(levelDb)) {
    throw new SignalError(
      'too-quiet',
      'The sound is shorter than 0.4 s or below \u221270 LUFS throughout: it has no loudness to bring to the target.',
    );
  }
  return { heardDb: levelDb, peakDb };
}

import { type Block, copyBlock, framesOf, type SignalFormat, type Source } from '../signal/signal.ts';
import { Resampler } from './resampler.ts';

/** What makes another number of frames of those that stream through. */
interface Resampling {
  push(block: Block): Block;
  flush(): Block;
}

/** A source at another pace, that can be read again. @param start made anew for each reading */
export const resampledSource = (source: Source, format: SignalFormat, start: () => Resampling): Source => ({
  format,
  async *blocks(options) {
    const resampling = start();
    for await (const block of source.blocks(options)) {
      const made = resampling.push(block);
      if (framesOf(made)) yield copyBlock(made);
    }
    yield resampling.flush();
  },
});

/** A source at another rate, or as it is where it has that rate. */
export function sourceAtRate(source: Source, sampleRateHz: number): Source {
  const { format } = source;
  if (format.sampleRateHz === sampleRateHz) return source;
  const start = () => new Resampler(format.sampleRateHz, sampleRateHz, format.channels);
  return resampledSource(source, { ...format, sampleRateHz }, start);
}

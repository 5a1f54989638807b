import { type Block, copyBlock, framesOf, type SignalFormat, type Source } from '../signal/signal.ts';

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

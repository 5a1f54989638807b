import { framesOf, type Source } from './signal.ts';

/** A source that tells how long it was, once it was read: its file may not say. */
export function countedSource(source: Source): { source: Source; seconds(): number } {
  let most = 0;
  const { format } = source;
  const counted: Source = {
    format,
    async *blocks(options) {
      let frames = 0;
      for await (const block of source.blocks(options)) {
        frames += framesOf(block);
        yield block;
      }
      most = Math.max(most, frames);
    },
  };
  return { source: counted, seconds: () => most / format.sampleRateHz };
}

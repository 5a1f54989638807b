import type { Block, Source } from './signal.ts';

/** The source itself, heard by somebody else the first time that it is read. */
export const heardOnce = (source: Source, hear: (block: Block) => void): Source => {
  let isFirst = true;
  return {
    format: source.format,
    async *blocks(options) {
      const listens = isFirst;
      isFirst = false;
      for await (const block of source.blocks(options)) {
        if (listens) hear(block);
        yield block;
      }
    },
  };
};

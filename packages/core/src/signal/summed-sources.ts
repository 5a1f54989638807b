import { changeLayout } from './change-layout.ts';
import { FrameReader } from './frame-reader.ts';
import { framesOf, type Source } from './signal.ts';

const PIECE_FRAMES = 8192;

/** Sources of one rate as their plain sum, as long as the longest of them: of two channels where any has more than one. */
export function summedSources(sources: readonly Source[]): Source {
  const channels = Math.min(2, Math.max(...sources.map(({ format }) => format.channels)));
  const format = { sampleRateHz: sources[0].format.sampleRateHz, channels };
  return {
    format,
    async *blocks() {
      const readers = sources.map((source) => new FrameReader(source));
      try {
        for (;;) {
          const blocks = await Promise.all(readers.map((reader) => reader.read(PIECE_FRAMES)));
          const frames = Math.max(...blocks.map(framesOf));
          if (!frames) return;
          const sum = Array.from({ length: channels }, () => new Float32Array(frames));
          blocks.forEach((block, i) => {
            changeLayout(block, sources[i].format, channels).forEach((own, c) => {
              for (let k = 0; k < own.length; k++) sum[c][k] += own[k];
            });
          });
          yield sum;
        }
      } finally {
        for (const reader of readers) await reader.close();
      }
    },
  };
}

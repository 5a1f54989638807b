import { type Block, configureChain, cut, MemorySignal, MemorySpool, runChain, STEPS } from '@tonos/core';

const BLOCK_FRAMES = 4096;

/** Settings under which a step works, where its defaults leave a signal alone. */
const BUSY: Record<string, Record<string, unknown>> = {
  'parametric-eq': {
    bands: [
      { frequencyHz: 240, gainDb: -3 },
      { frequencyHz: 3500, gainDb: 2 },
    ],
  },
  'point-eq': {
    points: [
      { frequencyHz: 200, gainDb: -3 },
      { frequencyHz: 4000, gainDb: 3 },
    ],
  },
  'tone-match': {
    reference: [
      { frequencyHz: 100, levelDb: -40 },
      { frequencyHz: 8000, levelDb: -60 },
    ],
  },
  gain: { gainDb: -3 },
  pace: { tempoPercent: 110 },
  fade: { inSeconds: 2, outSeconds: 4 },
  channels: { mode: 'mix-to-mono' },
};

export interface StepSpeed {
  kind: string;
  /** Seconds of sound in a second of one thread, its study included. */
  timesRealTime: number;
}

/** Every step alone over a voice in memory: the better of two goes, after one that warms up. */
export async function stepSpeeds(voice: Block, sampleRateHz: number): Promise<StepSpeed[]> {
  const seconds = voice[0].length / sampleRateHz;
  const source = new MemorySignal({ sampleRateHz, channels: voice.length }, [...cut(voice, BLOCK_FRAMES)]);
  const speeds: StepSpeed[] = [];
  for (const { kind } of STEPS) {
    const chain = configureChain([{ kind, on: true, mix: 1, settings: BUSY[kind] ?? {} }]);
    let best = Number.POSITIVE_INFINITY;
    for (let go = 0; go < 3; go++) {
      const start = performance.now();
      await runChain(chain, source, () => ({ write: () => {} }), {
        openSpool: async (format) => new MemorySpool(format),
      });
      if (go > 0) best = Math.min(best, (performance.now() - start) / 1000);
    }
    speeds.push({ kind, timesRealTime: seconds / best });
  }
  return speeds;
}

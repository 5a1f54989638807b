import {
  type Block,
  type ConfiguredStep,
  type Findings,
  framesOf,
  type KnownOfRecording,
  LiveChain,
  type MemorySignal,
  type Source,
  SpectrumMeter,
} from '@tonos/core';
import type { StepPicture } from '../../../steps/pictures/step-picture.ts';

const COLUMNS = 600;
const PIECE_FRAMES = 512;
/** Less than this is nothing. */
const LEAST_TRACE = 0.05;

/** Runs one step over what it is given, and draws up what it does. */
export async function paintStep(
  step: ConfiguredStep,
  before: Source,
  after: MemorySignal,
  findings: Findings,
  known: KnownOfRecording,
): Promise<Omit<StepPicture, 'stepId' | 'stretch'>> {
  const { sampleRateHz } = before.format;
  const { frames } = after;
  const chain = new LiveChain([step], before.format, { findings: { [step.id]: findings }, known });
  const spectrumBefore = new SpectrumMeter(before.format);
  const columnOf = (frame: number) => Math.max(0, Math.min(COLUMNS - 1, Math.floor((frame / frames) * COLUMNS)));
  const empty = () => Array.from({ length: COLUMNS }, (): [number, number] => [0, 0]);
  const columns = { before: empty(), after: empty() };
  const traces: Record<string, number[]> = {};
  const sums: Record<string, { sum: number; count: number; most: number; atSeconds: number }> = {};
  let at = 0;
  for await (const block of before.blocks()) {
    spectrumBefore.hear(block);
    widen(columns.before, block, at, columnOf);
    for (let start = 0; start < framesOf(block); start += PIECE_FRAMES) {
      const piece = block.map((channel) => channel.slice(start, start + PIECE_FRAMES));
      chain.process(piece);
      // the trace is of now; what sounds with it went in one latency ago
      const frame = at + start - chain.latencyFrames;
      for (const [name, value] of Object.entries(chain.takeTraces()[step.id] ?? {})) {
        traces[name] ??= new Array(COLUMNS).fill(0);
        sums[name] ??= { sum: 0, count: 0, most: 0, atSeconds: 0 };
        const column = columnOf(frame);
        traces[name][column] = Math.max(traces[name][column], value);
        const total = sums[name];
        if (value >= LEAST_TRACE) {
          total.sum += value;
          total.count++;
        }
        if (value > total.most) Object.assign(total, { most: value, atSeconds: Math.max(0, frame) / sampleRateHz });
      }
    }
    at += framesOf(block);
  }
  const spectrumAfter = new SpectrumMeter(after.format);
  at = 0;
  for await (const block of after.blocks()) {
    spectrumAfter.hear(block);
    widen(columns.after, block, at, columnOf);
    at += framesOf(block);
  }
  const totals = Object.fromEntries(
    Object.entries(sums).map(([name, { sum, count, most, atSeconds }]) => [
      name,
      { mean: count ? sum / count : 0, most, atSeconds },
    ]),
  );
  return {
    ...columns,
    traces,
    totals,
    spectrumBefore: spectrumBefore.conclude(),
    spectrumAfter: spectrumAfter.conclude(),
  };
}

function widen(columns: [number, number][], block: Block, from: number, columnOf: (frame: number) => number): void {
  for (const channel of block) {
    for (let i = 0; i < channel.length; i++) {
      const column = columns[columnOf(from + i)];
      if (channel[i] < column[0]) column[0] = channel[i];
      else if (channel[i] > column[1]) column[1] = channel[i];
    }
  }
}

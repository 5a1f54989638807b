import { configureChain } from '../chain/chain-file.ts';
import { type RunSurroundings, runChain, type StepReport } from '../chain/run.ts';
import type { Scope } from '../chain/scope.ts';
import { cut, MemorySignal, MemorySpool } from '../signal/memory.ts';
import type { Block, SignalFormat } from '../signal/signal.ts';
import type { KnownOfRecording } from '../steps/step.ts';

export const memorySurroundings: RunSurroundings = { openSpool: async (format) => new MemorySpool(format) };

export interface StepSketch {
  kind: string;
  settings?: Record<string, unknown>;
  mix?: number;
  on?: boolean;
  scope?: Scope;
}

/** Runs steps over samples in memory, cut into blocks of `blockFrames`. */
export async function processBlock(
  steps: readonly StepSketch[],
  input: Block,
  sampleRateHz: number,
  blockFrames = 4096,
  known: KnownOfRecording = {},
): Promise<{ output: Block; reports: StepReport[] }> {
  const format: SignalFormat = { sampleRateHz, channels: input.length };
  const source = new MemorySignal(format, [...cut(input, blockFrames)]);
  let sink = new MemorySignal(format);
  const chain = configureChain(steps.map((step) => ({ on: true, mix: 1, settings: {}, ...step })));
  const openSink = (made: SignalFormat) => {
    sink = new MemorySignal(made);
    return sink;
  };
  const reports = await runChain(chain, source, openSink, { ...memorySurroundings, known });
  return { output: sink.joined(), reports };
}

import { noTrace, type Processor } from '../dsp/processor.ts';

/** Leaves the sound as it is: what a step that moves moments does block by block. */
export const still = (): Processor => ({ latencyFrames: 0, process: () => {}, update: () => {}, takeTrace: noTrace });

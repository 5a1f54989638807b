import type { LongTermSpectrum, TimeSpan } from '@tonos/core';

/** What one step does over the stretch, for its picture. */
export interface StepPicture {
  stepId: string;
  /** In the recording's time. */
  stretch: TimeSpan;
  /** Smallest and largest sample of each column, before and after the step. */
  before: [number, number][];
  after: [number, number][];
  /** The largest value of each trace in each column. */
  traces: Record<string, number[]>;
  /** Mean of each trace while it does something, and its largest value with its place. */
  totals: Record<string, { mean: number; most: number; atSeconds: number }>;
  spectrumBefore: LongTermSpectrum;
  spectrumAfter: LongTermSpectrum;
}

import type { HumLine } from '../../measure/hum/find-lines.ts';
import type { Findings } from '../step.ts';

export interface HumFindings extends Findings {
  /** The mains frequency as it is in this recording, in Hz. */
  readonly mainsHz?: number;
  /** The lines that stand out, from the lowest. */
  readonly lines?: readonly HumLine[];
  /** Where in the recording the first of the values below holds. */
  readonly startSeconds?: number;
  /** The mains' phase beside 2 pi f0 t, in radians, one value each `thetaSeconds`: 60 KB an hour. */
  readonly thetaSeconds?: number;
  readonly theta?: readonly number[];
  /** By channel and line: pairs of real and imaginary parts, one each `AMPLITUDE_SECONDS`, in turn. */
  readonly amplitudes?: readonly (readonly (readonly number[])[])[];
  readonly note?: string;
}

export const THETA_SECONDS = 0.5;
export const AMPLITUDE_SECONDS = 2;

export const NO_HUM: HumFindings = { note: 'No hum stands out of this recording; it was left as it is.' };

import type { PyramidLevel } from './pyramid.ts';
import type { LongTermSpectrum } from './spectrum.ts';

/** What a picture of a recording is drawn from. Made once, while it is measured. */
export interface Survey {
  sampleRateHz: number;
  channels: number;
  frames: number;
  levels: PyramidLevel[];
  /** Loudness in LUFS, ten values a second: value i of the momentary ends at 0.4 + i / 10 s, of the short-term at 3 + i / 10 s. */
  momentaryLufs: Float32Array;
  shortTermLufs: Float32Array;
  /** A byte every tenth of a second: see peak-marks.ts. */
  peakMarks: Uint8Array;
  spectrum: LongTermSpectrum;
  speech: { startSeconds: number; endSeconds: number }[];
}

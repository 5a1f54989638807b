import type { RoomTone } from './activity/room-tone.ts';
import type { Complaint } from './complaints/complaint.ts';

/** What a file is, apart from its sound. */
export interface FileFacts {
  sampleRateHz: number;
  channels: number;
  /** null where samples come out of a lossy decoder. */
  bitDepth: number | null;
  bitrateKbps: number | null;
  container: string;
  codec: string;
}

export type WarningCode =
  | 'one-sided'
  | 'polarity'
  | 'clipped'
  | 'dc-offset'
  | 'too-quiet'
  | 'no-room-tone'
  | 'digital-silence'
  | 'band-limited'
  | 'uneven-level'
  | 'floor-changes'
  | 'damaged'
  | 'truncated'
  | 'bad-samples';

export interface Warning {
  code: WarningCode;
  message: string;
}

/** The figures of the sound. A value that does not exist is null, never a made-up number. */
export interface SoundFigures {
  durationSeconds: number;
  integratedLufs: number | null;
  maxMomentaryLufs: number | null;
  maxShortTermLufs: number | null;
  loudnessRangeLu: number | null;
  truePeakDbtp: number | null;
  samplePeakDbfs: number | null;
  rmsDbfs: number | null;
  noiseFloorDbfs: number | null;
  crestDb: number | null;
  dcOffset: number;
  clippedRuns: number;
  headSilenceSeconds: number | null;
  tailSilenceSeconds: number | null;
  longestPauseSeconds: number | null;
  digitalSilenceSeconds: number;
  channelCorrelation: number | null;
  channelBalanceDb: number | null;
  roomTone: RoomTone[];
  warnings: Warning[];
  /** What is wrong with the sound, worst first. */
  complaints: Complaint[];
}

export type Measurement = FileFacts & SoundFigures;

/** The measures that a target can limit: all that are one number. */
export const LIMITABLE_MEASURES = {
  integratedLufs: { title: 'Loudness', unit: 'LUFS', decimals: 1 },
  maxMomentaryLufs: { title: 'Loudest 400 ms', unit: 'LUFS', decimals: 1 },
  maxShortTermLufs: { title: 'Loudest 3 s', unit: 'LUFS', decimals: 1 },
  loudnessRangeLu: { title: 'Range', unit: 'LU', decimals: 1 },
  truePeakDbtp: { title: 'True peak', unit: 'dBTP', decimals: 1 },
  samplePeakDbfs: { title: 'Sample peak', unit: 'dBFS', decimals: 1 },
  rmsDbfs: { title: 'RMS', unit: 'dBFS', decimals: 1 },
  noiseFloorDbfs: { title: 'Noise floor', unit: 'dBFS', decimals: 1 },
  crestDb: { title: 'Crest', unit: 'dB', decimals: 1 },
  clippedRuns: { title: 'Clipped runs', unit: '', decimals: 0 },
  headSilenceSeconds: { title: 'Head', unit: 's', decimals: 2 },
  tailSilenceSeconds: { title: 'Tail', unit: 's', decimals: 2 },
  longestPauseSeconds: { title: 'Longest pause', unit: 's', decimals: 2 },
  durationSeconds: { title: 'Length', unit: 's', decimals: 1 },
} as const satisfies Partial<Record<keyof Measurement, { title: string; unit: string; decimals: number }>>;

/** What a difference between two values of a unit is counted in: levels differ by decibels, loudnesses by LU. */
export const differenceUnit = (unit: string): string =>
  unit === 'LUFS' ? 'LU' : unit === 'dBFS' || unit === 'dBTP' ? 'dB' : unit;

export type LimitableMeasure = keyof typeof LIMITABLE_MEASURES;

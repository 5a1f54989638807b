import type { LedgerFigures } from '@tonos/core';

/** The figures of a row, as the ledger has them. */
export const COLUMNS: readonly { key: keyof LedgerFigures; title: string; unit: string }[] = [
  { key: 'integratedLufs', title: 'Loudness', unit: 'LUFS' },
  { key: 'truePeakDbtp', title: 'True peak', unit: 'dBTP' },
  { key: 'rmsDbfs', title: 'RMS', unit: 'dBFS' },
  { key: 'noiseFloorDbfs', title: 'Floor', unit: 'dBFS' },
  { key: 'loudnessRangeLu', title: 'Range', unit: 'LU' },
];

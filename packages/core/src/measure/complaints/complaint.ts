/** Something wrong with a recording's sound. Codes and amounts are those of docs/measures: what each counts is said there. */
export const COMPLAINTS = {
  hum: { title: 'Hum', unit: 'dB' },
  rumble: { title: 'Rumble', unit: 'dB' },
  'steady-noise': { title: 'Steady noise', unit: 'dBFS' },
  'noise-change': { title: 'The room changes', unit: 'dB' },
  'mouth-clicks': { title: 'Mouth clicks', unit: 'a minute' },
  'digital-clicks': { title: 'Digital clicks', unit: 'a minute' },
  plosives: { title: 'Plosives', unit: 'a minute' },
  sibilance: { title: 'Sharp s sounds', unit: 'dB' },
  clipped: { title: 'Clipped', unit: 'samples a minute' },
  'uneven-level': { title: 'Uneven level', unit: 'dB' },
  roomy: { title: 'Roomy', unit: 's' },
  'one-sided': { title: 'One side only', unit: 'dB' },
  polarity: { title: 'Flipped polarity', unit: '' },
  'dc-offset': { title: 'Off centre', unit: '%' },
  'band-limited': { title: 'Band limited', unit: 'Hz' },
  'too-quiet': { title: 'Very quiet', unit: 'LUFS' },
} as const;

export type ComplaintCode = keyof typeof COMPLAINTS;

/** From the mildest. */
export const SEVERITIES = ['slight', 'clear', 'severe'] as const;
export type Severity = (typeof SEVERITIES)[number];

export interface ComplaintPlace {
  startSeconds: number;
  endSeconds: number;
  lowHz?: number;
  highHz?: number;
}

export interface Complaint {
  code: ComplaintCode;
  severity: Severity;
  amount: number;
  unit: string;
  /** 0 to 1. */
  confidence: number;
  /** At most `MOST_PLACES`; none, or one, where it fills the recording. */
  places: ComplaintPlace[];
  /** Places beyond those. */
  morePlaces?: number;
  /** The step that helps, with settings for this recording; null where none does. */
  remedy: { kind: string; settings: Record<string, string | number> } | null;
}

export const MOST_PLACES = 200;

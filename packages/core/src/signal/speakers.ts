/** Where the channels of a signal sound. */

/** In the order of the bits of a WAVE file's channel mask (dwChannelMask of WAVEFORMATEXTENSIBLE). */
const MASK_ORDER = [
  'front-left',
  'front-right',
  'centre',
  'low',
  'back-left',
  'back-right',
  'left-of-centre',
  'right-of-centre',
  'back-centre',
  'side-left',
  'side-right',
] as const;

export type Speaker = (typeof MASK_ORDER)[number] | 'unknown';

const QUAD: readonly Speaker[] = ['front-left', 'front-right', 'back-left', 'back-right'];
const FIVE: readonly Speaker[] = ['front-left', 'front-right', 'centre', 'side-left', 'side-right'];

/** Layouts by channel count as FLAC, Vorbis and Opus define them, in the order of WAVE files. RFC 9639, 9.1.3; RFC 7845, 5.1.1.2. */
const DEFINED: Readonly<Record<number, readonly Speaker[]>> = {
  1: ['centre'],
  2: ['front-left', 'front-right'],
  3: ['front-left', 'front-right', 'centre'],
  4: QUAD,
  5: FIVE,
  6: [...FIVE.slice(0, 3), 'low', 'side-left', 'side-right'],
  7: [...FIVE.slice(0, 3), 'low', 'back-centre', 'side-left', 'side-right'],
  8: [...FIVE.slice(0, 3), 'low', 'back-left', 'back-right', 'side-left', 'side-right'],
};

const unknown = (channels: number): readonly Speaker[] => new Array<Speaker>(channels).fill('unknown');

/** Of formats that fix the layout by the channel count. */
export const definedSpeakers = (channels: number): readonly Speaker[] => DEFINED[channels] ?? unknown(channels);

/** Of files that say nothing: from five channels on surround is meant; three and four are tracks of a field recorder as well. */
export const assumedSpeakers = (channels: number): readonly Speaker[] =>
  channels === 3 || channels === 4 ? unknown(channels) : definedSpeakers(channels);

/** Of a WAVE file's channel mask; channels without a bit, or with one that no rule here knows, are unknown. */
export function speakersOfMask(mask: number, channels: number): readonly Speaker[] {
  const bits = Array.from({ length: 32 }, (_, bit) => bit).filter((bit) => (mask >>> bit) & 1);
  const named = Array.from({ length: channels }, (_, c): Speaker => MASK_ORDER[bits[c]] ?? 'unknown');
  return channels === 1 ? DEFINED[1] : named;
}

/** The mask of a layout whose channels lie in the order of the mask's bits; 0, which says nothing, of any other. */
export function maskOf(speakers: readonly Speaker[]): number {
  const bits = speakers.map((speaker) => (MASK_ORDER as readonly Speaker[]).indexOf(speaker));
  const isInOrder = bits.every((bit, c) => bit >= 0 && (c === 0 || bit > bits[c - 1]));
  return isInOrder ? bits.reduce((mask, bit) => mask | (1 << bit), 0) : 0;
}

const BEHIND = 1.41;

/**
 * Weights of ITU-R BS.1770-5: 1.41 for speakers at 60 to 120 degrees, LFE left out, all others 1. Back speakers stand there where a layout has
 * none at its sides.
 */
export function loudnessWeights(speakers: readonly Speaker[]): number[] {
  const hasSides = speakers.includes('side-left') || speakers.includes('side-right');
  return speakers.map((speaker) => {
    if (speaker === 'low') return 0;
    if (speaker === 'side-left' || speaker === 'side-right') return BEHIND;
    return (speaker === 'back-left' || speaker === 'back-right') && !hasSides ? BEHIND : 1;
  });
}

const HALF = Math.SQRT1_2;

/** ITU-R BS.775-4, annex 4: centre and surrounds go to the front at -3 dB, LFE is left out. */
const TO_STEREO: Readonly<Record<Speaker, readonly [left: number, right: number]>> = {
  'front-left': [1, 0],
  'front-right': [0, 1],
  centre: [HALF, HALF],
  low: [0, 0],
  'back-left': [HALF, 0],
  'back-right': [0, HALF],
  'left-of-centre': [1, 0],
  'right-of-centre': [0, 1],
  'back-centre': [0.5, 0.5],
  'side-left': [HALF, 0],
  'side-right': [0, HALF],
  // who knows where: in the middle, and no louder together than one by itself
  unknown: [0, 0],
};

/** Gains of each channel for left and right. Channels of unknown place are averaged into the middle. */
export function stereoGains(speakers: readonly Speaker[]): (readonly [left: number, right: number])[] {
  const strangers = speakers.filter((speaker) => speaker === 'unknown').length;
  return speakers.map((speaker) => (speaker === 'unknown' ? [1 / strangers, 1 / strangers] : TO_STEREO[speaker]));
}

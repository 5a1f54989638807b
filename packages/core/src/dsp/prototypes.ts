import type { Prototype } from './section.ts';

/** Analogue prototypes: Butterworth cascades, and the bell and shelves of R. Bristow-Johnson's audio EQ cookbook. */

/** Butterworth of `order` 1 to 8 as sections of order two (and one of order one where the order is odd). */
export function butterworth(type: 'high' | 'low', order: number, frequencyHz: number): Prototype[] {
  const sections: Prototype[] = [];
  for (let k = 0; k < Math.floor(order / 2); k++) {
    const damping = 2 * Math.sin(((2 * k + 1) * Math.PI) / (2 * order));
    sections.push({ frequencyHz, n: type === 'low' ? [1, 0, 0] : [0, 0, 1], d: [1, damping, 1] });
  }
  if (order % 2) sections.push({ frequencyHz, n: type === 'low' ? [1, 0, 0] : [0, 1, 0], d: [1, 1, 0] });
  return sections;
}

/** H(s) = (s^2 + s A/Q + 1) / (s^2 + s/(A Q) + 1), A = 10^(gainDb/40). */
export function bell(frequencyHz: number, gainDb: number, q: number): Prototype {
  const a = 10 ** (gainDb / 40);
  return { frequencyHz, n: [1, a / q, 1], d: [1, 1 / (a * q), 1] };
}

/** Its frequency is where half its gain in dB is reached. */
export function lowShelf(frequencyHz: number, gainDb: number, q: number): Prototype {
  const a = 10 ** (gainDb / 40);
  const middle = Math.sqrt(a) / q;
  return { frequencyHz, n: [a * a, a * middle, a], d: [1, middle, a] };
}

export function highShelf(frequencyHz: number, gainDb: number, q: number): Prototype {
  const a = 10 ** (gainDb / 40);
  const middle = Math.sqrt(a) / q;
  return { frequencyHz, n: [a, a * middle, a * a], d: [a, middle, 1] };
}

export const notch = (frequencyHz: number, q: number): Prototype => ({ frequencyHz, n: [1, 0, 1], d: [1, 1 / q, 1] });

import type { SettingSchema } from './step-catalogue.ts';

/** Where a value lies on its slider, 0 to 1, and back: by value or by ratio. */
export function toShare(value: number, { minimum = 0, maximum = 1, scale }: SettingSchema): number {
  const share =
    scale === 'logarithmic'
      ? Math.log(value / minimum) / Math.log(maximum / minimum)
      : (value - minimum) / (maximum - minimum);
  return Math.min(1, Math.max(0, share));
}

export function fromShare(share: number, { minimum = 0, maximum = 1, scale, step = 0.01 }: SettingSchema): number {
  const value =
    scale === 'logarithmic' ? minimum * (maximum / minimum) ** share : minimum + share * (maximum - minimum);
  // three figures are as fine as a hand can set
  const grain = scale === 'logarithmic' ? Math.max(step, 10 ** (Math.floor(Math.log10(value)) - 2)) : step;
  return Math.min(maximum, Math.max(minimum, Number((Math.round(value / grain) * grain).toFixed(6))));
}

export const decimalsOf = ({ step = 0.01 }: SettingSchema): number => Math.max(0, Math.ceil(-Math.log10(step) - 1e-9));

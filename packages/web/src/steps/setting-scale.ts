import { scaleLinear, scaleLog } from 'd3-scale';
import type { SettingSchema } from './step-catalogue.ts';

/** A slider's own scale: by value or by ratio. */
const scaleOf = ({ minimum = 0, maximum = 1, scale }: SettingSchema) =>
  (scale === 'logarithmic' ? scaleLog : scaleLinear)([minimum, maximum], [0, 1]).clamp(true);

/** Where a value lies on its slider, 0 to 1, and back. */
export const toShare = (value: number, schema: SettingSchema): number => scaleOf(schema)(value);

export function fromShare(share: number, schema: SettingSchema): number {
  const { minimum = 0, maximum = 1, scale, step = 0.01 } = schema;
  const value = scaleOf(schema).invert(share);
  // three figures are as fine as a hand can set
  const grain = scale === 'logarithmic' ? Math.max(step, 10 ** (Math.floor(Math.log10(value)) - 2)) : step;
  return Math.min(maximum, Math.max(minimum, Number((Math.round(value / grain) * grain).toFixed(6))));
}

export const decimalsOf = ({ step = 0.01 }: SettingSchema): number => Math.max(0, Math.ceil(-Math.log10(step) - 1e-9));

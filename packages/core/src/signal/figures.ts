/** Numbers as they are printed: a real minus sign, no "-0.0". */
export function figure(value: number, decimals = 1): string {
  const text = Math.abs(value).toFixed(decimals);
  return value < 0 && Number(text) !== 0 ? `\u2212${text}` : text;
}

/** With a plus sign where it is a difference. */
export const signedFigure = (value: number, decimals = 1): string =>
  value > 0 && Number(value.toFixed(decimals)) !== 0 ? `+${figure(value, decimals)}` : figure(value, decimals);

/** A setting without needless zeros: 80, 0.5, 12000. */
export const plainFigure = (value: number): string => figure(value, 2).replace(/\.?0+$/, '');

export const hertzFigure = (hz: number): string =>
  hz >= 1000 ? `${plainFigure(hz / 1000)} kHz` : `${plainFigure(hz)} Hz`;

/** Reads 80, 80 Hz, 1.2k or 1,2 kHz; null where it is none of these. */
export function readHertz(text: string): number | null {
  const [, number, kilo] = /^(\d+(?:[.,]\d*)?)\s*(k)?(?:hz)?$/i.exec(text.trim()) ?? [];
  return number === undefined ? null : Number(number.replace(',', '.')) * (kilo ? 1000 : 1);
}

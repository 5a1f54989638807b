/** Bytes in the largest unit that leaves a whole part. */
export const sizeText = (bytes: number): string => {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  const power = Math.min(units.length - 1, Math.floor(Math.log10(Math.max(1, bytes)) / 3));
  const value = bytes / 1000 ** power;
  return `${value.toFixed(power === 0 || value >= 100 ? 0 : 1)}\u2009${units[power]}`;
};

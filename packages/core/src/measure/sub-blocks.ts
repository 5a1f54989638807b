/**
 * Time cut into equal steps of `perSecond` a second, to the frame nearest, so that windows keep their length at rates that
 * do not divide evenly.
 */
export const subBlockStart = (index: number, sampleRateHz: number, perSecond: number): number =>
  Math.round((index * sampleRateHz) / perSecond);

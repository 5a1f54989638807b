export { cascade } from './cascade';
export { cellPowers } from './cells';
export {
  amplify,
  averages,
  decibels,
  excesses,
  factors,
  follow,
  gains,
  ramps,
  reductions,
  shares,
  withoutShare,
} from './control';
export { realForward, realInverse } from './fft';
export { halve } from './half-band';
export { weightedEnergies, weightedEnergy } from './k-weighting';
export {
  energy,
  extremes,
  hasBeyond,
  hasFlat,
  jumpsOfGroups,
  levels,
  peak,
  peaksOfStrides,
  product,
  squaresOfGroups,
  zerosFromStart,
  zerosToEnd,
} from './levels';
export { releasedGains, slidingMaxima } from './limiting';
export { decimate, interpolate, saturated } from './oversampling';
export { dithered, from16, from24, to16, to24 } from './pcm';
export { autocorrelation, predictionErrors } from './prediction';
export { allocate } from './scratch';
export {
  addPowers,
  addProduct,
  amplified,
  bandPowers,
  powers,
  presence,
  spectralGains,
  trackedNoise,
} from './spectrum';
export { largestBetween, peaksBetween } from './true-peak';

export { realForward, realInverse } from './fft';
export { halve } from './half-band';
export { weightedEnergy } from './k-weighting';
export { energy, extremes, hasBeyond, hasFlat, peak, peaksOfStrides, product, sum, zeros } from './levels';
export { allocate } from './scratch';
export { largestBetween, peaksBetween } from './true-peak';

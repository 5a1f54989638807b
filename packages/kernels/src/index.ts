export { hann, RealFft, rootHann, type Spectrum, type WindowName } from './fft.ts';
export { type Kernels, kernels, once, roomFor, tableOf } from './kernels.ts';
export { extremesOf, held, inPlace, keeping, MOST_FRAMES } from './stretch.ts';
export { compiled, instanceOf } from './wasm.ts';

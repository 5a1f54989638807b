import { compiled, instanceOf } from '@tonos/kernels';
import { RNNOISE_WASM } from './rnnoise-wasm.ts';

/** The network hears and answers 10 ms at a time, at 48 kHz. */
export const NETWORK_RATE_HZ = 48000;
export const NETWORK_FRAMES = 480;
/** Its answer lags its input by one such stretch: half of its 20 ms window. */
export const NETWORK_DELAY = 480;

/** The network was trained on 16-bit figures. */
const SCALE = 32768;

/** What the module gives out. Its names were shortened when it was built. */
interface Exports {
  c: { buffer: ArrayBuffer };
  /** Must be called once, before all else. */
  d(): void;
  /** rnnoise_create(model): a new state, with the built-in model for 0. */
  h(model: number): number;
  /** rnnoise_process_frame(state, out, in): the probability of speech. */
  k(state: number, output: number, input: number): number;
  /** malloc(bytes) */
  l(bytes: number): number;
}

let module: object | undefined;

/** One channel's recurrent network (RNNoise: Valin 2018, "A hybrid DSP/deep learning approach to real-time full-band speech enhancement"). */
export class Rnnoise {
  private readonly exports: Exports;
  private readonly state: number;
  private readonly place: number;

  constructor() {
    module ??= compiled(RNNOISE_WASM);
    let memory: { buffer: ArrayBuffer } | undefined;
    const copy = (to: number, from: number, bytes: number) =>
      new Uint8Array(memory!.buffer).copyWithin(to, from, from + bytes);
    // it asks for two helps: to grow its memory, which it never needs, and to copy within it
    this.exports = instanceOf<Exports>(module, { a: { a: () => 0, b: copy } });
    memory = this.exports.c;
    this.exports.d();
    this.state = this.exports.h(0);
    this.place = this.exports.l(NETWORK_FRAMES * Float32Array.BYTES_PER_ELEMENT);
  }

  /** Cleans NETWORK_FRAMES samples in place; what comes out is what went in NETWORK_DELAY frames ago. */
  process(samples: Float32Array): void {
    const shared = new Float32Array(this.exports.c.buffer, this.place, NETWORK_FRAMES);
    for (let i = 0; i < NETWORK_FRAMES; i++) shared[i] = SCALE * samples[i];
    this.exports.k(this.state, this.place, this.place);
    for (let i = 0; i < NETWORK_FRAMES; i++) samples[i] = shared[i] / SCALE;
  }
}

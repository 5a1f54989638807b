import { Random } from '../signal/random.ts';

/** Test signals, all of one channel. */

/** @param amplitude peak, 1 = full scale; @param phase in radians */
export const sine = (hz: number, amplitude: number, seconds: number, sampleRateHz: number, phase = 0): Float32Array =>
  Float32Array.from(
    { length: Math.round(seconds * sampleRateHz) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / sampleRateHz + phase),
  );

/** White Gaussian noise. @param rms 1 = full scale */
export function noise(rms: number, seconds: number, sampleRateHz: number, seed = 1): Float32Array {
  const random = new Random(seed);
  return Float32Array.from({ length: Math.round(seconds * sampleRateHz) }, () => rms * random.normal());
}

/**
 * A voice-like signal: syllables of a glottal pulse train through three wandering resonances, with fricatives and pauses.
 * Starts and ends with a second of silence; every fourth second is a pause.
 */
export function babble(seconds: number, sampleRateHz: number, seed = 7): Float32Array {
  const random = new Random(seed);
  const out = new Float32Array(Math.round(seconds * sampleRateHz));
  const state = new Float64Array(6);
  const radius = [0, 1, 2].map((f) => Math.exp((-Math.PI * (60 + 40 * f)) / sampleRateHz));
  let turn = [0, 0, 0];
  let pitch = 120;
  let voiced = true;
  let loud = 1;
  let phase = 0;
  for (let i = 0; i < out.length; i++) {
    const time = i / sampleRateHz;
    const inSyllable = (time % 0.2) / 0.2;
    if (i % Math.round(0.2 * sampleRateHz) === 0) {
      voiced = random.next() > 0.25;
      loud = 0.4 + 0.6 * random.next();
      const formants = [300 + 500 * random.next(), 900 + 1300 * random.next(), 2300 + 700 * random.next()];
      turn = formants.map((hz, f) => 2 * radius[f] * Math.cos((2 * Math.PI * hz) / sampleRateHz));
      pitch = 95 + 60 * random.next();
    }
    const pause = time < 1 || time > seconds - 1 || time % 4 >= 3;
    const envelope = pause ? 0 : loud * Math.sin(Math.PI * inSyllable) ** 0.6;
    phase += pitch / sampleRateHz;
    let excitation = 0;
    if (voiced) {
      if (phase >= 1) {
        phase -= 1;
        excitation = 1;
      }
    } else excitation = 0.12 * random.normal();
    let sum = 0;
    for (let f = 0; f < 3; f++) {
      const y = excitation + turn[f] * state[2 * f] - radius[f] * radius[f] * state[2 * f + 1];
      state[2 * f + 1] = state[2 * f];
      state[2 * f] = y;
      sum += y / (1 + f);
    }
    out[i] = 0.035 * envelope * sum;
  }
  return out;
}

export const mixed = (...parts: Float32Array[]): Float32Array =>
  Float32Array.from(parts[0], (x, i) => parts.slice(1).reduce((sum, part) => sum + (part[i] ?? 0), x));

export function joined(...parts: Float32Array[]): Float32Array {
  const out = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

export const rmsOf = (samples: Float32Array): number =>
  Math.sqrt(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);
export const levelDb = (samples: Float32Array): number => 20 * Math.log10(rmsOf(samples));

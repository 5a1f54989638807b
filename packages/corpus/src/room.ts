import { Random } from '@tonos/core';

/** What a room, a line or a careless setting adds. Every function is seeded: the same call gives the same samples. */

/** One-pole low-pass, in place. */
export function soften(samples: Float32Array, hz: number, rate: number): Float32Array {
  const keep = Math.exp((-2 * Math.PI * hz) / rate);
  let held = 0;
  for (let i = 0; i < samples.length; i++) {
    held = keep * held + (1 - keep) * samples[i];
    samples[i] = held;
  }
  return samples;
}

/** The rest that `soften` takes away, in place. */
export function sharpen(samples: Float32Array, hz: number, rate: number): Float32Array {
  const low = soften(samples.slice(), hz, rate);
  for (let i = 0; i < samples.length; i++) samples[i] -= low[i];
  return samples;
}

export function white(frames: number, seed: number): Float32Array {
  const random = new Random(seed);
  return Float32Array.from({ length: frames }, () => random.normal());
}

/** Scales to an RMS level in dBFS, in place. */
export function atLevel(samples: Float32Array, db: number): Float32Array {
  const rms = Math.sqrt(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);
  const gain = rms > 0 ? 10 ** (db / 20) / rms : 0;
  for (let i = 0; i < samples.length; i++) samples[i] *= gain;
  return samples;
}

/** Quiet booth: soft broad noise. */
export const booth = (frames: number, rate: number, db: number, seed: number) =>
  atLevel(soften(white(frames, seed), 3500, rate), db);

/** A fan: low roar and a little blade tone. */
export function fan(frames: number, rate: number, db: number, seed: number): Float32Array {
  const roar = atLevel(soften(soften(white(frames, seed), 900, rate), 2500, rate), 0);
  return atLevel(
    roar.map((x, i) => x + 0.35 * Math.sin((2 * Math.PI * 117 * i) / rate)),
    db,
  );
}

/** Mains hum with its harmonics. */
export function hum(frames: number, rate: number, db: number): Float32Array {
  const parts = [
    [50, 1],
    [100, 0.8],
    [150, 0.5],
    [200, 0.25],
    [300, 0.15],
  ];
  return atLevel(
    Float32Array.from({ length: frames }, (_, i) =>
      parts.reduce((sum, [hz, size]) => sum + size * Math.sin((2 * Math.PI * hz * i) / rate + hz), 0),
    ),
    db,
  );
}

/** Wind on a microphone: gusts far below the voice. */
export function wind(frames: number, rate: number, db: number, seed: number): Float32Array {
  const rumble = soften(soften(white(frames, seed), 25, rate), 60, rate);
  const gusts = soften(white(frames, seed + 1), 0.4, rate);
  const largest = gusts.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  return atLevel(
    rumble.map((x, i) => x * (0.4 + Math.abs(gusts[i]) / largest)),
    db,
  );
}

/**
 * Flite ends at 8 kHz: a band of noise above it that follows the voice's own treble, so that files look and measure
 * like full-band speech.
 */
export function air(voice: Float32Array, rate: number, seed: number): Float32Array {
  const treble = sharpen(voice.slice(), 4000, rate);
  const envelope = soften(treble.map(Math.abs), 30, rate);
  const band = sharpen(sharpen(soften(white(voice.length, seed), 12000, rate), 8000, rate), 8000, rate);
  return voice.map((x, i) => x + 0.5 * envelope[i] * band[i]);
}

/** Adds in place. */
export function add(to: Float32Array, ...parts: Float32Array[]): Float32Array {
  for (const part of parts) for (let i = 0; i < to.length; i++) to[i] += part[i] ?? 0;
  return to;
}

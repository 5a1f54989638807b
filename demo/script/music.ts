import { Random } from '@tonos/core';

/** Music for the demo, made from nothing but sums of decaying partials: no recording, no sample, no tune of anybody's. */

const RATE = 44_100;

/** Semitones over A at 110 Hz. */
const hz = (semitone: number): number => 110 * 2 ** (semitone / 12);

type Stereo = [Float32Array, Float32Array];

const silence = (seconds: number): Stereo => {
  const frames = Math.round(seconds * RATE);
  return [new Float32Array(frames), new Float32Array(frames)];
};

/** A struck bar: partials that die away the faster the higher they are. @param pan -1 to 1 */
function strike(into: Stereo, at: number, semitone: number, level: number, pan: number, ringSeconds = 1.6): void {
  const first = Math.round(at * RATE);
  const sides = [Math.cos(((pan + 1) * Math.PI) / 4), Math.sin(((pan + 1) * Math.PI) / 4)];
  for (const [ratio, share] of [
    [1, 1],
    [2.76, 0.35],
    [5.4, 0.12],
  ]) {
    const f = hz(semitone) * ratio;
    if (f > 12_000) continue;
    const decay = ringSeconds / ratio;
    const frames = Math.min(into[0].length - first, Math.round(6 * decay * RATE));
    for (let i = 0; i < frames; i++) {
      const t = i / RATE;
      const x = level * share * Math.min(1, i / 60) * Math.exp(-t / decay) * Math.sin(2 * Math.PI * f * t);
      into[0][first + i] += sides[0] * x;
      into[1][first + i] += sides[1] * x;
    }
  }
}

/** A held chord that swells and ebbs; every frequency comes round in the length of the piece, so that it can be repeated. */
function pad(into: Stereo, semitones: readonly number[], level: number, seed: number, loops: boolean): void {
  const random = new Random(seed);
  const frames = into[0].length;
  const seconds = frames / RATE;
  for (const semitone of semitones) {
    for (const [partial, share] of [
      [1, 1],
      [2, 0.4],
      [3, 0.18],
    ]) {
      for (const side of [0, 1]) {
        const wanted = hz(semitone) * partial * (1 + 0.0006 * (random.next() - 0.5));
        const f = loops ? Math.round(wanted * seconds) / seconds : wanted;
        const phase = 2 * Math.PI * random.next();
        const swell = (1 + Math.floor(3 * random.next())) / seconds;
        for (let i = 0; i < frames; i++) {
          const t = i / RATE;
          const breath = 0.65 + 0.35 * Math.sin(2 * Math.PI * swell * t + phase);
          into[side][i] += level * share * breath * Math.sin(2 * Math.PI * f * t + phase);
        }
      }
    }
  }
}

/** Rises at once and dies away at the end. */
function edged(music: Stereo, inSeconds: number, outSeconds: number): Stereo {
  const frames = music[0].length;
  for (const channel of music)
    for (let i = 0; i < frames; i++)
      channel[i] *= Math.min(1, i / (inSeconds * RATE), (frames - 1 - i) / (outSeconds * RATE));
  return music;
}

/** Nine bars going up over a held fifth. */
export function opening(): Stereo {
  const music = silence(8);
  pad(music, [0, 7, 12], 0.035, 61, false);
  [12, 19, 22, 24, 27, 31, 34, 36, 31].forEach((semitone, i) => {
    strike(music, 0.2 + 0.55 * i, semitone, 0.16, i % 2 ? 0.45 : -0.45);
  });
  return edged(music, 0.4, 1.5);
}

/** A minor ninth that breathes, with a low pulse; comes round after twelve seconds. */
export function bed(): Stereo {
  const music = silence(12);
  pad(music, [0, 7, 10, 14, 15], 0.03, 62, true);
  for (let beat = 0; beat < 12; beat++) strike(music, beat, beat % 4 ? 0 : -12, 0.05, 0, 0.12);
  return music;
}

export function sting(): Stereo {
  const music = silence(2.4);
  strike(music, 0.05, 24, 0.2, -0.3, 0.7);
  strike(music, 0.35, 31, 0.2, 0.3, 0.7);
  strike(music, 0.65, 36, 0.16, 0, 0.9);
  return edged(music, 0.01, 0.5);
}

/** The opening's bars, going down. */
export function closing(): Stereo {
  const music = silence(9);
  pad(music, [0, 7, 12], 0.035, 63, false);
  [36, 34, 31, 27, 24, 22, 19, 12].forEach((semitone, i) => {
    strike(music, 0.2 + 0.6 * i, semitone, 0.15, i % 2 ? -0.45 : 0.45);
  });
  return edged(music, 0.3, 3);
}

import { Random, Resampler } from '@tonos/core';
import { add, air, atLevel, booth, sharpen } from './room.ts';
import { SPEECH_RATE, speak, type Voice } from './speech.ts';

/** Recordings made from the speech package, as a studio would make them: the same call gives the same samples. */

export const CORPUS_VOICES = ['slt', 'rms', 'awb'] as const satisfies readonly Voice[];

const SENTENCES = [
  'The keeper counted the lamps before the tide came in.',
  'She wrote down the hour, the wind, and the name of every boat.',
  'Past the second gate the road turns to sand.',
  'Nobody asked the miller why his windows faced the hill.',
  'Six barrels of salt stood by the door, and a chair with three legs.',
  'When the bells stopped, they could hear the river again.',
  'Put the kettle on, he said, and then we can talk about the price.',
  'It took a week to cross the marsh with the heavy carts.',
];

export interface Narration {
  /** Sentences in turn; the list is gone through again where there are more. */
  sentences: number;
  voice: Voice;
  levelDb?: number;
  headSeconds?: number;
  tailSeconds?: number;
  /** Length of a pause; a little is added by chance. */
  pauseSeconds?: number;
  seed?: number;
}

const spokenAt = new Map<string, Promise<Float32Array>>();

async function sentenceAt(voice: Voice, sentence: string, rate: number): Promise<Float32Array> {
  const key = `${voice} ${rate} ${sentence}`;
  const known = spokenAt.get(key) ?? resampled(voice, sentence, rate);
  spokenAt.set(key, known);
  return (await known).slice();
}

async function resampled(voice: Voice, sentence: string, rate: number): Promise<Float32Array> {
  const resampler = new Resampler(SPEECH_RATE, rate, 1);
  const samples = await speak(voice, sentence);
  if (rate === SPEECH_RATE) return samples;
  const [first] = resampler.push([samples]);
  const [last] = resampler.flush();
  return Float32Array.from([...first, ...last]);
}

/** 40 dB under the sentence's own level is no speech. */
const AUDIBLE = 0.01;
const FADE_SECONDS = 0.01;

/** A sentence without the silence around it. */
function trimmed(samples: Float32Array, rate: number): Float32Array {
  const least = AUDIBLE * Math.sqrt(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);
  const fade = Math.round(FADE_SECONDS * rate);
  const from = Math.max(0, samples.findIndex((x) => Math.abs(x) > least) - fade);
  const to = Math.min(samples.length, samples.findLastIndex((x) => Math.abs(x) > least) + fade);
  const part = samples.slice(from, to);
  for (let i = 0; i < fade; i++) {
    part[i] *= i / fade;
    part[part.length - 1 - i] *= i / fade;
  }
  return part;
}

/** A voice alone, without any room, and where it speaks. */
export async function narrated(
  rate: number,
  { sentences, voice, levelDb = -21, headSeconds = 0.8, tailSeconds = 1.2, pauseSeconds = 0.6, seed = 1 }: Narration,
): Promise<{ samples: Float32Array; spans: { startSeconds: number; endSeconds: number }[] }> {
  const random = new Random(seed);
  const spoken: Float32Array[] = [];
  for (let i = 0; i < sentences; i++) {
    const one = await sentenceAt(voice, SENTENCES[(i + seed) % SENTENCES.length], rate);
    // synthetic voices wander off centre, microphones do not
    spoken.push(trimmed(atLevel(sharpen(one, 30, rate), levelDb), rate));
  }
  let at = Math.round(headSeconds * rate);
  const starts = spoken.map(({ length }) => {
    const start = at;
    at += length + Math.round(rate * (pauseSeconds + 0.3 * random.next()));
    return start;
  });
  const end = starts[starts.length - 1] + spoken[spoken.length - 1].length;
  const samples = new Float32Array(end + Math.round(tailSeconds * rate));
  spoken.forEach((one, i) => {
    samples.set(one, starts[i]);
  });
  const voiced = rate > SPEECH_RATE ? air(samples, rate, seed) : samples;
  return {
    samples: voiced,
    spans: starts.map((start, i) => ({ startSeconds: start / rate, endSeconds: (start + spoken[i].length) / rate })),
  };
}

/** A good recording: a voice in a quiet booth. */
export async function clean(
  rate: number,
  narration: Partial<Narration> & { floorDb?: number } = {},
): Promise<Float32Array> {
  const { samples } = await narrated(rate, { sentences: 4, voice: 'slt', ...narration });
  return add(samples, booth(samples.length, rate, narration.floorDb ?? -66, 31 + (narration.seed ?? 1)));
}

/** Adds a short sound at a place, in place. */
export function placed(to: Float32Array, sound: Float32Array, frame: number): Float32Array {
  for (let i = 0; i < sound.length && frame + i < to.length; i++) to[frame + i] += sound[i];
  return to;
}

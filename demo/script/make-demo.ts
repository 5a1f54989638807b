/**
 * Makes the demo recordings: `npx tsx --conditions=source demo/script/make-demo.ts [saltRoad] [nightShift] [ferryHouse] [frames]`. Needs Debian's `flac`. The results
 * are committed, so this runs only when texts or defects change.
 */
import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { configureChain, cut, MemorySignal, Random, Resampler, runChain } from '@tonos/core';
import { memorySurroundings } from '@tonos/core/testing';
import {
  add,
  air,
  atLevel,
  booth,
  fan,
  hum,
  placed,
  SPEECH_RATE,
  sharpen,
  speak,
  type Voice,
  wind,
} from '@tonos/corpus';
import { ByteWriter, writeWav } from '@tonos/formats';
import { bed, closing, opening, sting } from './music.ts';
import { CREDITS, FERRY_HOUSE, NIGHT_SHIFT, SALT_ROAD } from './texts.ts';

const HEAD_SECONDS = 0.75;
const TAIL_SECONDS = 2;
const demoFolder = join(import.meta.dirname, '..');

interface Speaker {
  voice: Voice;
  /** Above 1 the voice is higher and faster. */
  shift?: number;
  levelDb: number;
}

/** Sentences with pauses, head and tail, as a studio would record them. One speaker, or several in turn. */
async function narrate(
  sentences: readonly string[],
  speakers: readonly Speaker[],
  rate: number,
  seed: number,
): Promise<Float32Array> {
  const random = new Random(seed);
  const spoken = [];
  for (const [i, sentence] of sentences.entries()) {
    const { voice, shift = 1, levelDb } = speakers[i % speakers.length];
    const resampler = new Resampler(Math.round((SPEECH_RATE * shift) / 100) * 100, rate, 1);
    const samples = await speak(voice, sentence);
    const [first] = resampler.push([samples]);
    const [last] = resampler.flush();
    // synthetic voices wander off centre, microphones do not
    spoken.push(atLevel(sharpen(Float32Array.from([...first, ...last]), 30, rate), levelDb));
  }
  const pauses = spoken.map((_, i) => (i ? Math.round(rate * (0.55 + 0.35 * random.next())) : 0));
  const frames =
    Math.round((HEAD_SECONDS + TAIL_SECONDS) * rate) + spoken.reduce((sum, s, i) => sum + s.length + pauses[i], 0);
  const voice = new Float32Array(frames);
  let at = Math.round(HEAD_SECONDS * rate);
  for (const [i, samples] of spoken.entries()) {
    at += pauses[i];
    voice.set(samples, at);
    at += samples.length;
  }
  return air(voice, rate, seed);
}

async function throughChain(
  samples: Float32Array,
  rate: number,
  steps: { kind: string; settings: Record<string, unknown> }[],
): Promise<Float32Array> {
  const format = { sampleRateHz: rate, channels: 1 };
  const sink = new MemorySignal(format);
  const chain = configureChain(steps.map((step) => ({ ...step, on: true, mix: 1 })));
  await runChain(chain, new MemorySignal(format, [...cut([samples], 4096)]), () => sink, memorySurroundings);
  return sink.joined()[0] as Float32Array;
}

async function save(path: string, channels: Float32Array[], sampleRateHz: number, bitDepth: 16 | 24): Promise<string> {
  const full = join(demoFolder, path);
  mkdirSync(dirname(full), { recursive: true });
  const wav = full.replace(/\.flac$/, '.wav');
  rmSync(wav, { force: true });
  rmSync(full, { force: true });
  const bytes = await ByteWriter.create(wav);
  const writer = await writeWav(bytes, { format: { sampleRateHz, channels: channels.length }, bitDepth });
  await writer.write(channels);
  await writer.finish();
  await bytes.close();
  execFileSync('flac', [
    '--totally-silent',
    '-8',
    '-e',
    '-p',
    '--no-padding',
    '--no-seektable',
    '--delete-input-file',
    wav,
  ]);
  console.log(path, (channels[0].length / sampleRateHz).toFixed(1), 's', (statSync(full).size / 1e6).toFixed(2), 'MB');
  return path;
}

/** Lips that part before the first word and after the last. */
function smacks(samples: Float32Array, rate: number): Float32Array {
  const last = samples.length / rate;
  for (const [seconds, hz] of [
    [0.28, 2600],
    [last - 1.4, 3400],
    [last - 0.8, 2100],
  ]) {
    const smack = Float32Array.from({ length: Math.round(0.008 * rate) }, (_, i) => {
      const t = i / rate;
      return 0.035 * Math.exp(-t / 0.0016) * Math.sin(2 * Math.PI * hz * t) * Math.min(1, i / 12);
    });
    placed(samples, smack, Math.round(seconds * rate));
  }
  return samples;
}

/** A recorder that was stopped before its file ended: nothing but zeros from there on. */
const stopped = (samples: Float32Array, rate: number): Float32Array =>
  samples.fill(0, samples.length - Math.round(1.1 * rate));

const SLT: Speaker = { voice: 'slt', levelDb: -21 };
const RMS: Speaker = { voice: 'rms', levelDb: -21 };
const HOST: Speaker = { voice: 'awb', levelDb: -20 };
const GUEST: Speaker = { voice: 'slt', shift: 0.94, levelDb: -24 };

async function saltRoad(): Promise<string[]> {
  const folder = 'recordings/The Salt Road Almanac';
  const chapter = async (
    number: number,
    name: keyof typeof SALT_ROAD,
    speaker: Speaker,
    rate: number,
    bits: 16 | 24,
    room: (voice: Float32Array) => Float32Array,
  ) => {
    const voice = await narrate(SALT_ROAD[name], [speaker], rate, number);
    return save(`${folder}/0${number} ${name}.flac`, [room(voice)], rate, bits);
  };
  return [
    await chapter(1, 'The salt road', SLT, 44100, 16, (v) => add(v, booth(v.length, 44100, -67, 11))),
    await chapter(2, 'A measure of light', SLT, 44100, 16, (v) => add(v, fan(v.length, 44100, -52, 12))),
    await chapter(3, 'The weighing house', RMS, 48000, 16, (v) =>
      add(v, hum(v.length, 48000, -50), booth(v.length, 48000, -72, 13)),
    ),
    await chapter(4, 'Two lanterns', { ...RMS, levelDb: -43 }, 48000, 24, (v) =>
      add(v, booth(v.length, 48000, -78, 14)),
    ),
    await chapter(5, 'What the tide keeps', { ...SLT, levelDb: -12.6 }, 44100, 16, (v) =>
      add(v, booth(v.length, 44100, -64, 15)).map((x) => Math.max(-0.97, Math.min(0.97, x))),
    ),
    await chapter(6, 'Nine bells', RMS, 44100, 16, (v) => add(v, fan(v.length, 44100, -57, 16))),
  ];
}

async function nightShift(): Promise<string[]> {
  const folder = 'recordings/Night Shift at the Observatory';
  const open = await narrate(NIGHT_SHIFT['Cold open'], [HOST], 48000, 21);
  const guest = await narrate(NIGHT_SHIFT['The guest'], [GUEST], 48000, 22);
  const roof = await narrate(NIGHT_SHIFT['On the roof'], [{ voice: 'rms', shift: 1.06, levelDb: -24 }], 44100, 23);
  const caller = await narrate(
    NIGHT_SHIFT['A call from the valley'],
    [{ voice: 'slt', shift: 1.05, levelDb: -22 }],
    44100,
    24,
  );
  const desk = await narrate(NIGHT_SHIFT['Two at the desk'], [HOST, { ...GUEST, levelDb: -32 }], 48000, 25);
  const line = await throughChain(add(caller, booth(caller.length, 44100, -50, 34)), 44100, [
    { kind: 'high-pass', settings: { frequencyHz: 300, slopeDbPerOctave: 36 } },
    { kind: 'low-pass', settings: { frequencyHz: 3400, slopeDbPerOctave: 48 } },
    { kind: 'compressor', settings: { thresholdDb: -30, ratio: 6 } },
  ]);
  return [
    await save(`${folder}/1 Cold open.flac`, [smacks(add(open, booth(open.length, 48000, -66, 31)), 48000)], 48000, 16),
    await save(
      `${folder}/2 The guest.flac`,
      [
        stopped(add(guest, booth(guest.length, 48000, -64, 32)), 48000),
        stopped(booth(guest.length, 48000, -84, 42), 48000),
      ],
      48000,
      16,
    ),
    await save(
      `${folder}/3 On the roof.flac`,
      [add(roof, wind(roof.length, 44100, -34, 33), booth(roof.length, 44100, -60, 43))],
      44100,
      16,
    ),
    await save(`${folder}/4 A call from the valley.flac`, [atLevel(line, -27)], 44100, 16),
    await save(`${folder}/5 Two at the desk.flac`, [add(desk, booth(desk.length, 48000, -76, 35))], 48000, 24),
  ];
}

/** By how much the guest's recorder began later, and how far its clock is off. */
const LATER_SECONDS = 1.8;
const DRIFT_PPM = 35;

/** What another recorder has of a sound, by a clock that is off: next to nothing lies over 16 kHz here, cubic lines do. */
function recorded(samples: Float32Array, rate: number): Float32Array {
  const frames = Math.floor((samples.length - LATER_SECONDS * rate) * (1 + DRIFT_PPM * 1e-6)) - 4;
  return Float32Array.from({ length: frames }, (_, n) => {
    const at = LATER_SECONDS * rate + n / (1 + DRIFT_PPM * 1e-6);
    const whole = Math.floor(at);
    const x = at - whole;
    const [a, b, c, d] = [-1, 0, 1, 2].map((k) => samples[whole + k] ?? 0);
    return b + 0.5 * x * (c - a + x * (2 * a - 5 * b + 4 * c - d + x * (3 * (b - c) + d - a)));
  });
}

/** A talk of two, each with a microphone that hears the other one from afar; and lines of it that were read again. */
async function ferryHouse(): Promise<string[]> {
  const folder = 'recordings/The Ferry House';
  const rate = 44100;
  const host: Speaker = { voice: 'rms', shift: 1.03, levelDb: -22 };
  const guest: Speaker = { voice: 'slt', shift: 0.97, levelDb: -23 };
  const silent = (speaker: Speaker): Speaker => ({ ...speaker, levelDb: -200 });
  const lines = FERRY_HOUSE['The talk'];
  const byHost = await narrate(lines, [host, silent(guest)], rate, 51);
  const byGuest = await narrate(lines, [silent(host), guest], rate, 51);
  const bleed = (samples: Float32Array) => atGain(samples, 0.06);
  const near = add(byHost, bleed(byGuest), booth(byHost.length, rate, -66, 52));
  const far = recorded(add(byGuest, bleed(byHost)), rate);
  const again = await narrate(FERRY_HOUSE['Read again'], [{ ...host, levelDb: -29 }], rate, 53);
  const dull = await throughChain(add(again, booth(again.length, rate, -74, 54)), rate, [
    { kind: 'low-pass', settings: { frequencyHz: 9000, slopeDbPerOctave: 12 } },
  ]);
  return [
    await save(`${folder}/1 Host microphone.flac`, [near], rate, 16),
    await save(`${folder}/2 Guest microphone.flac`, [add(far, booth(far.length, rate, -62, 55))], rate, 16),
    await save(`${folder}/3 Pick-ups of the host.flac`, [dull], rate, 16),
  ];
}

/** What goes round the chapters and episodes: music, and credits that are read. */
async function frames(): Promise<string[]> {
  const [night, salt] = ['recordings/Night Shift at the Observatory', 'recordings/The Salt Road Almanac'];
  const read = async (name: keyof typeof CREDITS, seed: number) => {
    const voice = await narrate(CREDITS[name], [SLT], 44100, seed);
    return save(`${salt}/${name}.flac`, [add(voice, booth(voice.length, 44100, -68, seed))], 44100, 16);
  };
  return [
    await save(`${night}/Opening music.flac`, opening(), 44100, 16),
    await save(`${night}/Night bed.flac`, bed(), 44100, 16),
    await save(`${night}/Break sting.flac`, sting(), 44100, 16),
    await save(`${night}/Closing music.flac`, closing(), 44100, 16),
    await read('Opening credits', 71),
    await read('End credits', 72),
  ];
}

const atGain = (samples: Float32Array, gain: number): Float32Array => samples.map((x) => gain * x);

/** Only those that are named, or all; what is loaded of them stands in demo.json. */
const TITLES: Record<string, () => Promise<string[]>> = { saltRoad, nightShift, ferryHouse, frames };
const wanted = process.argv.slice(2);
for (const [name, make] of Object.entries(TITLES)) if (!wanted.length || wanted.includes(name)) await make();

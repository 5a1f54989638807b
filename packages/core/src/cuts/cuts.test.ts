import { LoudnessMeter } from '../measure/loudness.ts';
import { SpectrumMeter } from '../measure/spectrum.ts';
import { cut as inBlocks, MemorySignal } from '../signal/memory.ts';
import type { Source } from '../signal/signal.ts';
import { babble, joined, levelDb, mixed, noise, sine } from '../testing/index.ts';
import { toResult } from '../time/time-map.ts';
import { cutFaults } from './check-cuts.ts';
import { cutsFile, cutsFor, type TimeCut, timeCuts } from './cut.ts';
import { cutSource } from './cut-source.ts';

const RATE = 16_000;

const signalOf = (samples: Float32Array, rate = RATE, size = 4096) =>
  new MemorySignal({ sampleRateHz: rate, channels: 1 }, [...inBlocks([samples], size)]);

async function heardOf(source: Source): Promise<Float32Array> {
  const sink = new MemorySignal(source.format);
  for await (const block of source.blocks()) sink.write(block);
  return sink.joined()[0];
}

const noPickUps = async (): Promise<never> => {
  throw new Error('no pick-up was to be opened');
};

async function cutOf(samples: Float32Array, cuts: unknown[], pickUp?: MemorySignal, size = 4096) {
  const made = await cutSource(signalOf(samples, RATE, size), timeCuts.parse(cuts), {
    name: 'chapter.wav',
    openPickUp: pickUp ? async () => ({ source: pickUp, close: async () => {} }) : noPickUps,
  });
  return { ...made, output: await heardOf(made.source) };
}

const part = (samples: Float32Array, from: number, to: number) =>
  samples.subarray(Math.round(from * RATE), Math.round(to * RATE));

/** Speech over a room, with pauses at 3, 7, 11 s and so on. */
const voice = (seconds: number, room = 0.001, seed = 1) =>
  mixed(babble(seconds, RATE), noise(room, seconds, RATE, seed));

it('takes stretches out and puts pauses in, to the sample', async () => {
  const { output, map } = await cutOf(voice(20), [
    { kind: 'take-out', startSeconds: 3.2, endSeconds: 3.8 },
    { kind: 'pause', atSeconds: 7.5, lengthSeconds: 1.25 },
    { kind: 'take-out', startSeconds: 11.1, endSeconds: 11.9, on: false },
  ]);
  expect(output.length).toBe(Math.round((20 - 0.6 + 1.25) * RATE));
  expect(toResult(map, 3)).toBeCloseTo(3, 6);
  expect(toResult(map, 5)).toBeCloseTo(4.4, 6);
  expect(toResult(map, 10)).toBeCloseTo(10.65, 6);
});

it('is the same whatever the blocks, and when it is read again', async () => {
  const cuts = [
    { kind: 'take-out', startSeconds: 3.2, endSeconds: 3.8 },
    { kind: 'room-tone', startSeconds: 5, endSeconds: 5.5 },
    { kind: 'pause', atSeconds: 7.5, lengthSeconds: 3 },
  ];
  const samples = voice(12);
  const { output, source } = await cutOf(samples, cuts);
  const small = await cutOf(samples, cuts, undefined, 777);
  expect(small.output).toEqual(output);
  expect(await heardOf(source)).toEqual(output);
});

it('lays the room of its own neighbourhood over a cough, within 1.5 dB', async () => {
  // the room grows louder by 12 dB in the middle
  const quiet = voice(40, 0.0005, 2);
  const loud = voice(40, 0.002, 3);
  const samples = joined(quiet, loud);
  for (const at of [11.2, 71.2]) samples.set(noise(0.2, 0.5, RATE, 9), Math.round(at * RATE));
  const { output } = await cutOf(samples, [
    { kind: 'room-tone', startSeconds: 11.15, endSeconds: 11.75 },
    { kind: 'room-tone', startSeconds: 71.15, endSeconds: 71.75 },
  ]);
  expect(output.length).toBe(samples.length);
  expect(levelDb(part(output, 11.2, 11.7))).toBeGreaterThan(20 * Math.log10(0.0005) - 1.5);
  expect(levelDb(part(output, 11.2, 11.7))).toBeLessThan(20 * Math.log10(0.0005) + 1.5);
  expect(Math.abs(levelDb(part(output, 71.2, 71.7)) - 20 * Math.log10(0.002))).toBeLessThan(1.5);
  // nothing else changes
  expect(part(output, 20, 70)).toEqual(part(samples, 20, 70));
});

it('joins without a click', async () => {
  const samples = sine(200, 0.3, 4, RATE);
  const { output } = await cutOf(samples, [{ kind: 'take-out', startSeconds: 1.00123, endSeconds: 2.0047 }]);
  const bend = (x: Float32Array) =>
    x.slice(2).reduce((most, v, i) => Math.max(most, Math.abs(v - 2 * x[i + 1] + x[i])), 0);
  expect(bend(output)).toBeLessThan(1.3 * bend(samples));
});

/** The same words, through another microphone, quieter, over another room. */
function otherDay(samples: Float32Array, gain: number, room: number): Float32Array {
  let last = 0;
  const dull = samples.map((x) => {
    last += 0.35 * (x - last);
    return gain * (0.35 * x + 0.65 * last);
  });
  return mixed(dull, noise(room, samples.length / RATE, RATE, 21));
}

function figuresOf(samples: Float32Array) {
  const format = { sampleRateHz: RATE, channels: 1 };
  const [loudness, spectrum] = [new LoudnessMeter(format), new SpectrumMeter(format)];
  loudness.hear([samples]);
  spectrum.hear([samples]);
  return { lufs: loudness.conclude().integratedLufs, spectrum: spectrum.conclude() };
}

/** Third octaves from 150 Hz on: pairs of sixth octaves. */
function thirdsDb({ centresHz, loudDb }: ReturnType<SpectrumMeter['conclude']>): number[] {
  const thirds: number[] = [];
  for (let b = 0; b + 1 < centresHz.length; b += 2)
    if (centresHz[b] >= 150 && centresHz[b + 1] < 7000)
      thirds.push(10 * Math.log10(10 ** (loudDb[b]! / 10) + 10 ** (loudDb[b + 1]! / 10)));
  return thirds;
}

describe('a pick-up', () => {
  const chapter = voice(40, 0.001);
  // ten seconds of speech with its pauses, read again
  const again = part(babble(40, RATE), 14, 30);
  const laid = { kind: 'pick-up', startSeconds: 15, endSeconds: 27, recordingId: 'p', fromSeconds: 1, toSeconds: 13 };
  const matchedIn = async (room: number, more = {}) => {
    const pickUp = signalOf(otherDay(again, 0.3, room));
    const { output } = await cutOf(chapter, [{ ...laid, ...more }], pickUp);
    return part(output, 15.1, 26.9);
  };
  /** What lies around the place, which it is brought to. */
  const around = joined(part(chapter, 3, 15), part(chapter, 27, 39));

  it.each([0.0001, 0.00045])(
    'has the chapter\u2019s level, third octaves and room (its own room at %p)',
    async (room) => {
      const output = await matchedIn(room);
      const [wanted, made] = [figuresOf(around), figuresOf(output)];
      expect(Math.abs(made.lufs - wanted.lufs)).toBeLessThan(1);
      const thirds = thirdsDb(made.spectrum).map((db, i) => db - thirdsDb(wanted.spectrum)[i]);
      expect(Math.max(...thirds.map(Math.abs))).toBeLessThan(1.5);
      // a pause: 19 to 20 s
      const roomDb = levelDb(part(output, 19.3 - 15.1, 19.8 - 15.1));
      expect(Math.abs(roomDb - 20 * Math.log10(0.001))).toBeLessThan(2);
    },
  );

  it('is as it was recorded where nothing is to be matched', async () => {
    const output = await matchedIn(0.0001, { matchLevel: false, matchTone: false, matchRoom: false });
    const source = part(otherDay(again, 0.3, 0.0001), 1.1, 12.9);
    expect(output).toEqual(source);
  });

  it('may be longer or shorter than what it stands for, and of another rate', async () => {
    const pickUp = signalOf(babble(10, 44_100), 44_100);
    const { output, map } = await cutOf(chapter, [{ ...laid, fromSeconds: 2, toSeconds: 7.5 }], pickUp);
    expect(output.length).toBe(Math.round((40 - 12 + 5.5) * RATE));
    expect(toResult(map, 27)).toBeCloseTo(20.5, 6);
  });
});

it('says what is wrong with cuts, naming them', () => {
  const faults = (cuts: unknown[], seconds = 10) => cutFaults(timeCuts.parse(cuts), seconds).join('\n');
  const out = (id: string, startSeconds: number, endSeconds: number): unknown => ({
    kind: 'take-out',
    id,
    startSeconds,
    endSeconds,
  });
  expect(faults([out('a', 1, 3), out('b', 2, 4)])).toMatch(/"a".*"b".*overlap/);
  expect(faults([out('a', 1, 3), { kind: 'pause', id: 'p', atSeconds: 2, lengthSeconds: 1 }])).toMatch(
    /"a".*"p".*overlap/,
  );
  expect(faults([out('a', 9, 12)])).toMatch(/"a".*outside/);
  expect(faults([out('a', 3, 3)])).toMatch(/"a".*ends before/);
  expect(faults([out('a', 0, 10)])).toMatch(/everything out/);
  expect(faults([out('a', 1, 3), out('b', 3, 4), { kind: 'pause', atSeconds: 4, lengthSeconds: 1 }])).toBe('');
});

it('finds a recording\u2019s cuts by its path, its name or not at all', () => {
  const cut: TimeCut = { kind: 'take-out', on: true, startSeconds: 1, endSeconds: 2 };
  const file = cutsFile.parse({ format: 'tonos.cuts/1', recordings: { 'one.wav': [cut] } });
  expect(cutsFor(file, '/some/where/one.wav')).toEqual([cut]);
  expect(cutsFor(file, 'two.wav')).toEqual([]);
});

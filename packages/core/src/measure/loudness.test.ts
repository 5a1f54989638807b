import { TruePeakMeter } from '../dsp/true-peak.ts';
import { gainToDb } from '../signal/decibels.ts';
import { cut } from '../signal/memory.ts';
import { type Speaker, speakersOfMask } from '../signal/speakers.ts';
import { joined, sine } from '../testing/index.ts';
import { LoudnessMeter } from './loudness.ts';
import { LoudnessHistogram } from './loudness-histogram.ts';

/** The signals of EBU Tech 3341 and 3342: 1 kHz stereo sines, level per channel in dBFS peak, tolerance 0.1 LU (1 LU for the range). */

type Part = [db: number, seconds: number];

const tone = (parts: readonly Part[], rate: number): Float32Array =>
  joined(...parts.map(([db, seconds]) => sine(1000, 10 ** (db / 20), seconds, rate)));

const times = (count: number, parts: readonly Part[]): Part[] => Array.from({ length: count }, () => parts).flat();

function read(samples: Float32Array, rate: number, blockFrames = 5000) {
  const meter = new LoudnessMeter({ sampleRateHz: rate, channels: 2 });
  for (const block of cut([samples, samples], blockFrames)) meter.hear(block);
  return meter.conclude();
}

/** One window's reading, from `start` seconds on. */
const window = (samples: Float32Array, rate: number, start: number, seconds: number) =>
  read(samples.slice(Math.round(start * rate), Math.round((start + seconds) * rate)), rate);

describe.each([[44100], [48000], [96000]])('at %i Hz', (rate) => {
  it.each<[string, number, Part[], number]>([
    ['1', -23, [[-23, 20]], -23],
    ['2', -33, [[-33, 20]], -33],
  ])('case %s reads %d LUFS in all three', (_, __, parts, expected) => {
    const { integratedLufs, maxMomentaryLufs, maxShortTermLufs } = read(tone(parts, rate), rate);
    for (const value of [integratedLufs, maxMomentaryLufs, maxShortTermLufs])
      expect(Math.abs(value - expected)).toBeLessThan(0.1);
  });

  it.each<[string, Part[]]>([
    [
      '3',
      [
        [-36, 10],
        [-23, 60],
        [-36, 10],
      ],
    ],
    [
      '4',
      [
        [-72, 10],
        [-36, 10],
        [-23, 60],
        [-36, 10],
        [-72, 10],
      ],
    ],
    [
      '5',
      [
        [-26, 20],
        [-20, 20.1],
        [-26, 20],
      ],
    ],
  ])('case %s: integrated -23.0 LUFS', (_, parts) => {
    expect(Math.abs(read(tone(parts, rate), rate).integratedLufs + 23)).toBeLessThan(0.1);
  });

  it('case 9: short-term -23.0 LUFS in every window of 3 s', () => {
    const samples = tone(
      times(5, [
        [-20, 1.34],
        [-30, 1.66],
      ]),
      rate,
    );
    for (let start = 0; start < 12; start += 0.7) {
      expect(Math.abs(window(samples, rate, start, 3).maxShortTermLufs + 23)).toBeLessThan(0.1);
    }
  });

  it('case 12: momentary -23.0 LUFS in every window of 400 ms', () => {
    const samples = tone(
      times(25, [
        [-20, 0.18],
        [-30, 0.22],
      ]),
      rate,
    );
    const { maxMomentaryLufs } = read(samples, rate);
    expect(Math.abs(maxMomentaryLufs + 23)).toBeLessThan(0.1);
    for (let start = 1; start < 9; start += 0.37) {
      expect(Math.abs(window(samples, rate, start, 0.4).maxMomentaryLufs + 23)).toBeLessThan(0.1);
    }
  });

  it('case 6: integrated -23.0 LUFS of five channels, surrounds by 1.41', () => {
    const [front, centre, surround] = [-28, -24, -30].map((db) => tone([[db, 20]], rate));
    const meter = new LoudnessMeter({ sampleRateHz: rate, channels: 5 });
    for (const block of cut([front, front, centre, surround, surround], 3001)) meter.hear(block);
    expect(Math.abs(meter.conclude().integratedLufs + 23)).toBeLessThan(0.1);
  });

  const silence = (seconds: number) => new Float32Array(Math.round(seconds * rate));

  it('case 10: short-term -23.0 LUFS at its largest, wherever 3 s of tone begin', () => {
    const burst = tone([[-23, 3]], rate);
    for (let i = 0; i < 20; i++) {
      const { maxShortTermLufs } = read(joined(silence(0.15 * i), burst, silence(1)), rate, 1000 + 37 * i);
      expect(Math.abs(maxShortTermLufs + 23)).toBeLessThan(0.1);
    }
  });

  it('case 13: momentary -23.0 LUFS at its largest, wherever 400 ms of tone begin', () => {
    const burst = tone([[-23, 0.4]], rate);
    for (let i = 0; i < 20; i++) {
      const { maxMomentaryLufs } = read(joined(silence(0.02 * i), burst, silence(1)), rate, 500 + 41 * i);
      expect(Math.abs(maxMomentaryLufs + 23)).toBeLessThan(0.1);
    }
  });

  it.each<[number, Part[]]>([
    [
      10,
      [
        [-20, 20],
        [-30, 20],
      ],
    ],
    [
      5,
      [
        [-20, 20],
        [-15, 20],
      ],
    ],
    [
      20,
      [
        [-40, 20],
        [-20, 20],
      ],
    ],
    [
      15,
      [
        [-50, 20],
        [-35, 20],
        [-20, 20],
        [-35, 20],
        [-50, 20],
      ],
    ],
  ])('Tech 3342: a loudness range of %d LU', (expected, parts) => {
    expect(Math.abs(read(tone(parts, rate), rate).loudnessRangeLu! - expected)).toBeLessThan(1);
  });
});

it('reads the same to a billionth of an LU however blocks are cut', () => {
  const samples = tone(
    [
      [-30, 0.5],
      [-20, 0.7],
    ],
    48000,
  );
  const whole = read(samples, 48000, samples.length);
  for (const size of [1, 479, 48001]) {
    for (const [key, value] of Object.entries(read(samples, 48000, size))) {
      const expected = whole[key as keyof typeof whole];
      if (Number.isFinite(expected)) expect(value).toBeCloseTo(expected!, 9);
      else expect(value).toBe(expected);
    }
  }
});

it('gives digital silence no loudness', () => {
  expect(read(new Float32Array(48000), 48000)).toMatchObject({
    integratedLufs: Number.NEGATIVE_INFINITY,
    loudnessRangeLu: null,
  });
});

describe.each([[44100], [48000], [96000]])('true peak at %i Hz (Tech 3341, tolerance +0.2 and -0.4 dB)', (RATE) => {
  const truePeak = (samples: Float32Array) => {
    const meter = new TruePeakMeter(1);
    for (const block of cut([samples], 777)) meter.hear(block);
    return gainToDb(meter.conclude());
  };
  const expectPeak = (samples: Float32Array, db: number) => {
    expect(truePeak(samples)).toBeLessThan(db + 0.2);
    expect(truePeak(samples)).toBeGreaterThan(db - 0.4);
  };
  /** Fades in and out over 20 ms: a tone that is cut off overshoots by itself. */
  const faded = (samples: Float32Array) => {
    const fade = 960;
    return samples.map(
      (x, i) =>
        x *
        Math.min(
          1,
          Math.sin((Math.PI / 2) * Math.min(1, (i + 1) / fade)),
          Math.sin((Math.PI / 2) * Math.min(1, (samples.length - i) / fade)),
        ),
    );
  };

  it.each([
    ['15', 4, 0, 0.5, -6.02],
    ['16', 4, 45, 0.5, -6.02],
    ['17', 6, 60, 0.5, -6.02],
    ['18', 8, 67.5, 0.5, -6.02],
    ['19', 4, 45, 1.41, 2.98],
  ])('case %s: a tone of fs/%d at %d degrees, amplitude %d', (_, divisor, degrees, amplitude, db) => {
    expectPeak(faded(sine(RATE / divisor, amplitude, 0.5, RATE, (degrees * Math.PI) / 180)), db);
  });

  it.each([
    [20, 0],
    [21, 1],
    [22, 2],
    [23, 3],
  ])('case %d: a full-scale burst of fs/4 sampled %d quarter-samples late', (_, quarters) => {
    const burst = Float32Array.from({ length: 4000 }, (__, i) => {
      const t = i - 2000 - quarters / 4;
      return Math.cos((Math.PI / 2) * t) * Math.exp(-((t / 400) ** 2));
    });
    expectPeak(burst, 0);
  });
});

describe('S13: channels weigh by where they sound', () => {
  const rate = 48000;
  const loudnessOf = (count: number, speakers?: readonly Speaker[]) => {
    const meter = new LoudnessMeter({ sampleRateHz: rate, channels: count, speakers });
    const silence = new Float32Array(5 * rate);
    const last = sine(1000, 0.1, 5, rate);
    for (const block of cut([...new Array(count - 1).fill(silence), last], 4096)) meter.hear(block);
    return meter.conclude().integratedLufs;
  };

  it.each<[string, number, readonly Speaker[] | undefined, number]>([
    ['a track of a field recorder', 4, undefined, 0],
    ['a back speaker of a quad', 4, speakersOfMask(0x33, 4), 1.49],
    ['a side speaker of 5.1', 6, speakersOfMask(0x60f, 6), 1.49],
    ['a surround of 5.1, written as back', 6, speakersOfMask(0x3f, 6), 1.49],
    ['a side speaker of 7.1', 8, speakersOfMask(0x63f, 8), 1.49],
    ['a channel of six that a mask of 0 leaves unknown', 6, speakersOfMask(0, 6), 0],
    ['LFE, last in this mask', 3, speakersOfMask(0xb, 3), Number.NEGATIVE_INFINITY],
  ])('%s', (_, channels, speakers, overDb) => {
    // a sine of -20 dBFS in one channel: -23.01 LUFS (BS.1770), and 10 log10 1.41 = 1.49 more behind
    const expected = -23.01 + overDb;
    const found = loudnessOf(channels, speakers);
    if (Number.isFinite(expected)) expect(Math.abs(found - expected)).toBeLessThan(0.05);
    else expect(found).toBe(expected);
  });
});

describe('S12: loudness in classes', () => {
  const meterOf = (samples: Float32Array) => {
    const histogram = new LoudnessHistogram();
    for (const lufs of samples) histogram.add(10 ** ((lufs + 0.691) / 10));
    return histogram;
  };
  const levels = Float32Array.from({ length: 4000 }, (_, i) => -70.5 + ((i * 37) % 4000) * 0.015);

  it('gives the gated mean and range of the single values to a fiftieth of an LU', () => {
    const powers = [...levels].filter((lufs) => lufs > -70).map((lufs) => 10 ** ((lufs + 0.691) / 10));
    const mean = (values: number[]) => values.reduce((sum, x) => sum + x, 0) / values.length;
    const gated = powers.filter((power) => power > 0.1 * mean(powers));
    const ranged = powers.filter((power) => power >= 0.01 * mean(powers)).sort((a, b) => a - b);
    const at = (share: number) => ranged[Math.round(share * (ranged.length - 1))];
    const histogram = meterOf(levels);
    expect(Math.abs(histogram.gatedLufs() - (-0.691 + 10 * Math.log10(mean(gated))))).toBeLessThan(0.02);
    expect(Math.abs(histogram.rangeLu()! - 10 * Math.log10(at(0.95) / at(0.1)))).toBeLessThan(0.06);
  });

  it('merges two stretches into both', () => {
    const [whole, first, second] = [levels, levels.subarray(0, 1500), levels.subarray(1500)].map(meterOf);
    first.merge(second);
    expect(first.gatedLufs()).toBeCloseTo(whole.gatedLufs(), 9);
    expect(first.rangeLu()).toBeCloseTo(whole.rangeLu()!, 9);
  });

  it('is told in under 50 ms for a row of ten hours, and is as small as for a second', () => {
    const histogram = new LoudnessHistogram();
    for (let i = 0; i < 360_000; i++) histogram.add(10 ** (-2 - (i % 400) / 100));
    const sizes = () =>
      Object.values(histogram).reduce((sum: number, one) => sum + (one as Float64Array).byteLength, 0);
    expect(sizes()).toBeLessThan(32_000);
    const before = performance.now();
    for (let row = 0; row < 26; row++) [histogram.gatedLufs(), histogram.rangeLu()];
    expect(performance.now() - before).toBeLessThan(50);
  });
});

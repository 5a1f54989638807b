import { LoudnessMeter } from '../measure/loudness.ts';
import { babble, joined, levelDb, mixed, noise, processBlock, sine } from '../testing/index.ts';

const RATE = 48000;
const at = (seconds: number) => Math.round(seconds * RATE);
const amplitude = (rmsDb: number) => 10 ** ((rmsDb + 3.0103) / 20);
const run = async (kind: string, settings: Record<string, unknown>, input: Float32Array, rate = RATE) =>
  (await processBlock([{ kind, settings }], [input], rate)).output[0];

describe('expander', () => {
  it.each([
    [-40, 2, 20, 0],
    [-55, 2, 20, 5],
    [-60, 3, 40, 20],
    [-80, 4, 20, 20],
  ])(
    'turns a tone of %d dBFS at 1 : %d, range %d dB, threshold -50 dBFS, down by %d dB',
    async (db, ratio, rangeDb, by) => {
      const input = sine(1000, amplitude(db), 2, RATE);
      const out = await run('expander', { thresholdDb: -50, ratio, rangeDb }, input);
      expect(
        Math.abs(levelDb(input.subarray(at(1), at(1.9))) - levelDb(out.subarray(at(1), at(1.9))) - by),
      ).toBeLessThan(0.1);
    },
  );

  it.each([
    [-20, {}],
    [-35, {}],
    [-42, { ratio: 10, rangeDb: 60 }],
    [-20, { ratio: 20, rangeDb: 80 }],
  ])('S21: is open when a word of %d dBFS begins: its first 10 ms lose at most 0.5 dB', async (db, settings) => {
    const word = joined(noise(1e-5, 1, RATE), sine(1000, amplitude(db), 0.5, RATE));
    const out = await run('expander', { thresholdDb: -50, ...settings }, word);
    const lost = levelDb(word.subarray(at(1), at(1.01))) - levelDb(out.subarray(at(1), at(1.01)));
    expect(lost).toBeLessThan(0.5);
  });

  it('stays open for its hold, then closes in its release to 63 %', async () => {
    const settings = { thresholdDb: -40, ratio: 20, rangeDb: 30, holdMs: 200, releaseMs: 100 };
    const quiet = amplitude(-70);
    const input = joined(sine(1000, amplitude(-20), 1, RATE), sine(1000, quiet, 2, RATE));
    const out = await run('expander', settings, input);
    const gainAt = (seconds: number) =>
      levelDb(out.subarray(at(seconds), at(seconds + 0.004))) -
      levelDb(input.subarray(at(seconds), at(seconds + 0.004)));
    expect(Math.abs(gainAt(1.15))).toBeLessThan(0.2);
    // the hold runs from where the level falls under the threshold
    let passed = 1.15;
    while (gainAt(passed) > -0.63 * 30) passed += 0.002;
    expect(Math.abs(passed - 1 - 0.3)).toBeLessThan(0.025);
    expect(Math.abs(gainAt(2.5) + 30)).toBeLessThan(0.2);
  });
});

describe('multiband-compressor', () => {
  const asItIs = { ratio: 1 };
  const settings = { crossoversHz: [200, 1500, 6000], bands: [asItIs, asItIs, asItIs, asItIs] };

  it.each([1, 0.5])('is flat within 0.05 dB where all ratios are 1, at mix %d', async (mix) => {
    for (const hz of [60, 200, 700, 1500, 3000, 6000, 11000]) {
      const input = sine(hz, 0.3, 1, RATE);
      const { output } = await processBlock([{ kind: 'multiband-compressor', settings, mix }], [input], RATE);
      const change = levelDb(output[0].subarray(at(0.3), at(0.9))) - levelDb(input.subarray(at(0.3), at(0.9)));
      expect(Math.abs(change)).toBeLessThan(0.05);
    }
  });

  it('compresses a band by its own settings, and leaves the others alone', async () => {
    const bands = [asItIs, { thresholdDb: -30, ratio: 4, kneeDb: 0 }, asItIs];
    const wide = { crossoversHz: [200, 6000], bands };
    // -20 dBFS RMS is 10 dB over: 7.5 dB less at 4 : 1
    for (const [hz, by] of [
      [1100, 7.5],
      [40, 0],
      [16000, 0],
    ]) {
      const input = sine(hz, amplitude(-20), 2, RATE);
      const out = await run('multiband-compressor', wide, input);
      expect(
        Math.abs(levelDb(input.subarray(at(1), at(1.9))) - levelDb(out.subarray(at(1), at(1.9))) - by),
      ).toBeLessThan(0.25);
    }
  });
});

describe('de-esser', () => {
  it('turns a hiss alone down by its range, and a vowel not at all', async () => {
    const hiss = sine(8000, 0.1, 1, RATE);
    const vowel = sine(500, 0.3, 1, RATE);
    const settings = { frequencyHz: 6000, thresholdDb: -20, rangeDb: 9 };
    const out = await run('de-esser', settings, hiss);
    expect(
      Math.abs(levelDb(hiss.subarray(at(0.3), at(0.7))) - levelDb(out.subarray(at(0.3), at(0.7))) - 9),
    ).toBeLessThan(0.2);
    const left = await run('de-esser', settings, vowel);
    expect(levelDb(left.map((x, i) => x - vowel[i]))).toBeLessThan(-80);
  });

  it('changes nothing under its band while it works', async () => {
    const low = sine(3000, 0.1, 1, RATE);
    const mix = mixed(low, sine(9000, 0.2, 1, RATE));
    const out = await run('de-esser', { frequencyHz: 6000, thresholdDb: -40, rangeDb: 24 }, mix);
    let [re, im] = [0, 0];
    for (let i = at(0.25); i < at(0.75); i++) {
      re += out[i] * Math.cos((2 * Math.PI * 3000 * i) / RATE);
      im += out[i] * Math.sin((2 * Math.PI * 3000 * i) / RATE);
    }
    expect(Math.abs(20 * Math.log10((2 * Math.hypot(re, im)) / at(0.5) / 0.1))).toBeLessThan(0.02);
  });

  it.each([1, 0.1, 0.01])('does the same to a voice at %d of its level', async (gain) => {
    const input = mixed(sine(400, 0.2, 1, RATE), sine(7500, 0.05, 1, RATE));
    const settings = { frequencyHz: 6000, thresholdDb: -24, rangeDb: 20 };
    const out = await run(
      'de-esser',
      settings,
      input.map((x) => gain * x),
    );
    const reference = await run('de-esser', settings, input);
    expect(levelDb(out.map((x, i) => x / gain - reference[i]))).toBeLessThan(-80);
  });
});

describe('saturation', () => {
  /** Level of each harmonic of 1 kHz, in dB against the first; and the strongest line that is no harmonic. */
  const harmonics = (out: Float32Array) => {
    const count = 4800; // whole periods
    const part = out.subarray(at(0.5), at(0.5) + count);
    const level = (hz: number) => {
      let [re, im] = [0, 0];
      part.forEach((x, i) => {
        re += x * Math.cos((2 * Math.PI * hz * i) / RATE);
        im += x * Math.sin((2 * Math.PI * hz * i) / RATE);
      });
      return 20 * Math.log10(Math.hypot(re, im) + 1e-12);
    };
    const first = level(1000);
    const between = Array.from({ length: 200 }, (_, k) => 100 * k + 100).filter((hz) => hz % 1000 !== 0);
    return {
      second: level(2000) - first,
      third: level(3000) - first,
      stray: Math.max(...between.map(level)) - first,
    };
  };

  it.each(['even', 'odd'])('keeps aliases of 1 kHz 80 dB down at full drive, %s', async (character) => {
    const out = await run('saturation', { driveDb: 24, character }, sine(1000, 0.9, 1, RATE));
    expect(harmonics(out).stray).toBeLessThan(-80);
  });

  it('makes the harmonics that its name says', async () => {
    const input = sine(1000, 0.25, 1, RATE);
    const even = harmonics(await run('saturation', { driveDb: 6, character: 'even' }, input));
    const odd = harmonics(await run('saturation', { driveDb: 6, character: 'odd' }, input));
    expect(even.second).toBeGreaterThan(even.third + 6);
    expect(odd.second).toBeLessThan(-100);
    // tanh a sin: the third harmonic is a^2 / 12 for small a, here 0.5
    expect(Math.abs(odd.third - 20 * Math.log10(0.5 ** 2 / 12))).toBeLessThan(2);
  });

  it('keeps the level of quiet sounds', async () => {
    const input = sine(1000, 0.001, 1, RATE);
    for (const character of ['even', 'odd']) {
      const out = await run('saturation', { driveDb: 12, character }, input);
      expect(
        Math.abs(levelDb(out.subarray(at(0.3), at(0.8))) - levelDb(input.subarray(at(0.3), at(0.8)))),
      ).toBeLessThan(0.05);
    }
  });
});

describe('leveller', () => {
  const loudnessOf = (samples: Float32Array) => {
    const meter = new LoudnessMeter({ sampleRateHz: RATE, channels: 1 });
    meter.hear([samples]);
    return meter.conclude().integratedLufs;
  };
  const voice = babble(4, RATE, 7); // a second of pause on either side
  const turns = (gains: readonly number[]) =>
    mixed(joined(...gains.map((gain) => voice.map((x) => gain * x))), noise(0.00005, 4 * gains.length, RATE));

  it('brings two speakers 12 dB apart within 2 LU, near the level asked for', async () => {
    const input = turns([0.2, 0.05, 0.2, 0.05]);
    const out = await run('leveller', { shortTermLufs: -20, rangeDb: 24 }, input);
    const levels = [0, 1, 2, 3].map((i) => loudnessOf(out.subarray(at(4 * i + 0.9), at(4 * i + 3.1))));
    expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(2);
    for (const level of levels) expect(Math.abs(level + 20)).toBeLessThan(2.5);
  });

  it('never lets its gain rise in a pause', async () => {
    const input = turns([0.2, 0.02, 0.3]);
    const out = await run('leveller', { shortTermLufs: -20, rangeDb: 24 }, input);
    const gain = (seconds: number) =>
      levelDb(out.subarray(at(seconds), at(seconds + 0.1))) - levelDb(input.subarray(at(seconds), at(seconds + 0.1)));
    for (const [from, to] of [
      [3.2, 4.7],
      [7.2, 8.7],
    ])
      for (let t = from; t + 0.1 < to; t += 0.1) expect(gain(t + 0.1)).toBeLessThan(gain(t) + 0.1);
    expect(gain(0.3)).toBeLessThan(0.1); // nor before anybody spoke
  });

  it('goes no further than its range', async () => {
    const out = await run('leveller', { shortTermLufs: -10, rangeDb: 6 }, turns([0.02, 0.02]));
    const input = turns([0.02, 0.02]);
    expect(
      Math.abs(levelDb(out.subarray(at(1.5), at(2.5))) - levelDb(input.subarray(at(1.5), at(2.5))) - 6),
    ).toBeLessThan(0.1);
  });
});

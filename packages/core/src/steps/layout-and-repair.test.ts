import { babble, levelDb, mixed, noise, processBlock, sine } from '../testing/index.ts';

const RATE = 48000;
const scaled = (samples: Float32Array, gain: number) => samples.map((x) => gain * x);

describe('channels', () => {
  const left = noise(0.1, 1, RATE, 1);
  const right = noise(0.1, 1, RATE, 2);
  const run = async (settings: Record<string, unknown>, input: Float32Array[]) =>
    processBlock([{ kind: 'channels', settings }], input, RATE);
  /** Largest difference of two channels. */
  const apart = (a: Float32Array, b: Float32Array) => a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0);

  it('takes one side, swaps, and doubles mono, exactly', async () => {
    expect((await run({ mode: 'left-only' }, [left, right])).output).toHaveLength(1);
    expect(apart((await run({ mode: 'left-only' }, [left, right])).output[0], left)).toBe(0);
    expect(apart((await run({ mode: 'right-only' }, [left, right])).output[0], right)).toBe(0);
    const swapped = (await run({ mode: 'swap' }, [left, right])).output;
    expect([apart(swapped[0], right), apart(swapped[1], left)]).toEqual([0, 0]);
    const doubled = (await run({ mode: 'to-stereo' }, [left])).output;
    expect([apart(doubled[0], left), apart(doubled[1], left)]).toEqual([0, 0]);
  });

  it('mixes to the mean', async () => {
    const { output } = await run({ mode: 'mix-to-mono' }, [left, right]);
    expect(output).toHaveLength(1);
    expect(
      apart(
        output[0],
        left.map((x, i) => (x + right[i]) / 2),
      ),
    ).toBeLessThan(1e-7);
  });

  it.each([0, 40, 100, 200])('sets the width to %d %: L, R = M +- w S', async (widthPercent) => {
    const { output } = await run({ mode: 'to-stereo', widthPercent }, [left, right]);
    const expected = (sign: number) =>
      left.map((x, i) => (x + right[i]) / 2 + (sign * widthPercent * (x - right[i])) / 200);
    expect(apart(output[0], expected(1))).toBeLessThan(1e-6);
    expect(apart(output[1], expected(-1))).toBeLessThan(1e-6);
  });

  it('finds the live side, mends a flipped one, and keeps real stereo', async () => {
    const crosstalk = scaled(left, 0.01);
    const auto = async (l: Float32Array, r: Float32Array) => (await run({ mode: 'auto-mono' }, [l, r])).output;
    expect(apart((await auto(left, crosstalk))[0], left)).toBe(0);
    expect(apart((await auto(crosstalk, left))[0], left)).toBe(0);
    const mended = await auto(left, scaled(left, -1));
    expect(mended).toHaveLength(1);
    expect(apart(mended[0], left)).toBeLessThan(1e-7);
    expect(await auto(left, scaled(left, 0.5))).toHaveLength(1);
    expect(await auto(left, right)).toHaveLength(2);
  });

  it('hands the steps behind it the layout it made', async () => {
    const { output } = await processBlock(
      [
        { kind: 'channels', settings: { mode: 'mix-to-mono' } },
        { kind: 'loudness-normalise' },
        { kind: 'channels', settings: { mode: 'to-stereo' } },
        { kind: 'limiter' },
      ],
      [scaled(left, 0.1), right],
      RATE,
    );
    expect(output).toHaveLength(2);
    expect(apart(output[0], output[1])).toBe(0);
  });
});

describe('dc-removal', () => {
  it('takes the mean of each channel away and nothing else', async () => {
    const voice = mixed(babble(4, RATE), noise(0.001, 4, RATE));
    const input = [voice.map((x) => 0.3 * x + 0.02), voice.map((x) => 0.3 * x - 0.1)];
    const { output } = await processBlock([{ kind: 'dc-removal' }], input, RATE);
    output.forEach((channel, c) => {
      const mean = channel.reduce((sum, x) => sum + x, 0) / channel.length;
      expect(20 * Math.log10(Math.abs(mean) + 1e-12)).toBeLessThan(-90);
      const taken = input[c].map((x, i) => x - channel[i]);
      expect(Math.max(...taken.subarray(0, 1000)) - Math.min(...taken.subarray(0, 1000))).toBeLessThan(1e-6);
    });
  });
});

describe('hum-removal', () => {
  const seconds = 12;
  const hum = (mains: number, level: number, harmonics: number) =>
    Array.from({ length: harmonics }, (_, i) => sine(mains * (i + 1), level / (i + 1), seconds, RATE, i)).reduce(
      (all, one) => mixed(all, one),
    );
  /** Power of a line over a stretch, in dB. */
  const lineDb = (samples: Float32Array, hz: number) => {
    const part = samples.subarray(2 * RATE, 10 * RATE);
    let [re, im] = [0, 0];
    part.forEach((x, i) => {
      re += x * Math.cos((2 * Math.PI * hz * i) / RATE);
      im += x * Math.sin((2 * Math.PI * hz * i) / RATE);
    });
    return 20 * Math.log10((2 * Math.hypot(re, im)) / part.length);
  };
  const room = noise(0.00003, seconds, RATE, 5);

  it.each([50, 60, 49.93])('finds mains of %d Hz by itself and takes each line down by its depth', async (mains) => {
    const input = mixed(hum(mains, 0.01, 6), room);
    const { output, reports } = await processBlock([{ kind: 'hum-removal' }], [input], RATE);
    expect(Math.abs((reports[0].findings.mainsHz as number) - mains)).toBeLessThan(0.01);
    for (let n = 1; n <= 6; n++) {
      const down = lineDb(input, n * mains) - lineDb(output[0], n * mains);
      expect(down).toBeGreaterThan(34);
    }
  });

  it('leaves speech between the lines alone: 200 Hz to 4 kHz change by less than 0.5 dB', async () => {
    const voice = babble(seconds, RATE).map((x) => 0.2 * x);
    const chain = [{ kind: 'hum-removal', settings: { harmonics: 40 } }];
    const { output } = await processBlock(chain, [mixed(voice, hum(50, 0.02, 8), room)], RATE);
    const band = async (samples: Float32Array) => {
      const cuts = [
        { kind: 'high-pass', settings: { frequencyHz: 200, slopeDbPerOctave: 48 } },
        { kind: 'low-pass', settings: { frequencyHz: 4000, slopeDbPerOctave: 48 } },
      ];
      return levelDb((await processBlock(cuts, [samples], RATE)).output[0].subarray(RATE, 11 * RATE));
    };
    expect(Math.abs((await band(output[0])) - (await band(voice)))).toBeLessThan(0.5);
  });

  it('leaves a recording without hum as it is, and says so', async () => {
    const voice = mixed(
      babble(seconds, RATE).map((x) => 0.2 * x),
      noise(0.0005, seconds, RATE),
    );
    const { output, reports } = await processBlock([{ kind: 'hum-removal' }], [voice], RATE);
    expect(reports[0].findings.note).toMatch(/No hum/);
    expect(output[0].every((x, i) => x === voice[i])).toBe(true);
  });
});

import { Random } from '../signal/random.ts';
import { babble, joined, levelDb, mixed, noise, processBlock, sine } from '../testing/index.ts';

const RATE = 48000;
const at = (seconds: number) => Math.round(seconds * RATE);
const run = async (kind: string, settings: Record<string, unknown>, input: Float32Array, rate = RATE) =>
  (await processBlock([{ kind, settings }], [input], rate)).output[0];
const difference = (a: Float32Array, b: Float32Array) => a.map((x, i) => x - b[i]);

describe('point-eq', () => {
  const points = [
    { frequencyHz: 60, gainDb: -6 },
    { frequencyHz: 300, gainDb: 4 },
    { frequencyHz: 2000, gainDb: -3 },
    { frequencyHz: 9000, gainDb: 8 },
  ];
  const gainAt = async (hz: number, rate: number) => {
    const input = sine(hz, 0.1, 4, rate);
    const out = await run('point-eq', { points }, input, rate);
    const middle = (samples: Float32Array) => levelDb(samples.subarray(1.5 * rate, 2.5 * rate));
    return middle(out) - middle(input);
  };

  it.each([44100, 48000, 96000])('goes through its points within 0.25 dB at %d Hz', async (rate) => {
    for (const { frequencyHz, gainDb } of points)
      expect(Math.abs((await gainAt(frequencyHz, rate)) - gainDb)).toBeLessThan(0.25);
  });

  it('is monotone between two points, and level beyond the last', async () => {
    const gains = [];
    for (const hz of [2000, 3000, 4500, 6500, 9000]) gains.push(await gainAt(hz, RATE));
    for (let i = 1; i < gains.length; i++) expect(gains[i]).toBeGreaterThan(gains[i - 1]);
    expect(Math.abs((await gainAt(15000, RATE)) - 8)).toBeLessThan(0.25);
    expect(Math.abs((await gainAt(30, RATE)) + 6)).toBeLessThan(0.25);
  });

  it('has linear phase: an impulse comes out symmetrical, in its place', async () => {
    const impulse = new Float32Array(at(2));
    impulse[at(1)] = 1;
    const out = await run('point-eq', { points }, impulse);
    for (let k = 1; k < 5000; k += 37) expect(Math.abs(out[at(1) - k] - out[at(1) + k])).toBeLessThan(1e-6);
  });
});

describe('declick', () => {
  const voice = mixed(
    babble(6, RATE).map((x) => 0.3 * x),
    noise(0.0005, 6, RATE),
  );

  it.each([
    ['babble', 48000],
    ['babble', 44100],
    ['a tone', 48000],
  ])('lets clean sound pass: %s at %d Hz changes by less than -60 dB', async (what, rate) => {
    const clean =
      what === 'babble'
        ? mixed(
            babble(6, rate).map((x) => 0.3 * x),
            noise(0.0005, 6, rate),
          )
        : mixed(sine(440, 0.3, 6, rate), noise(0.0001, 6, rate));
    const out = await run('declick', {}, clean, rate);
    expect(levelDb(difference(out, clean)) - levelDb(clean)).toBeLessThan(-60);
  });

  it.each([1, 20, 100, 200])('rebuilds clicks of %d samples: what is left of them lies 20 dB lower', async (length) => {
    const random = new Random(5);
    const clicks = new Float32Array(voice.length);
    for (let k = 0; k < 12; k++) {
      const start = at(0.4 + 0.45 * k);
      for (let i = 0; i < length; i++) clicks[start + i] = (i % 2 ? -0.5 : 0.5) * (0.6 + 0.4 * random.next());
    }
    const spoiled = mixed(voice, clicks);
    const out = await run('declick', {}, spoiled);
    const before = levelDb(difference(spoiled, voice));
    expect(before - levelDb(difference(out, voice))).toBeGreaterThan(20);
  });
});

describe('plosive-removal', () => {
  const voice = mixed(
    babble(6, RATE).map((x) => 0.3 * x),
    noise(0.0003, 6, RATE),
  );
  /** Half a second of breath: a swing of 40 Hz that dies away in 50 ms. */
  const thumps = new Float64Array(voice.length);
  const places = [1.5, 2.3, 4.6];
  for (const place of places)
    for (let i = 0; i < at(0.15); i++)
      thumps[at(place) + i] = 0.6 * Math.sin((2 * Math.PI * 40 * i) / RATE) * Math.exp(-i / at(0.05));
  const spoiled = voice.map((x, i) => x + thumps[i]);

  it('takes most of a thump away: under 80 Hz it falls by more than 12 dB', async () => {
    const out = await run('plosive-removal', {}, spoiled);
    const low = async (samples: Float32Array) =>
      run('low-pass', { frequencyHz: 80, slopeDbPerOctave: 48 }, difference(samples, voice));
    const [before, after] = [await low(spoiled), await low(out)];
    for (const place of places) {
      const part = (samples: Float32Array) => levelDb(samples.subarray(at(place), at(place + 0.12)));
      expect(part(before) - part(after)).toBeGreaterThan(12);
    }
  });

  it('changes no sample away from them, and none of a voice without', async () => {
    const out = await run('plosive-removal', {}, spoiled);
    for (let i = 0; i < out.length; i++) {
      const near = places.some((place) => i > at(place - 0.1) && i < at(place + 0.4));
      if (!near && out[i] !== spoiled[i]) throw new Error(`sample ${i} was changed`);
    }
    const clean = await run('plosive-removal', {}, voice);
    expect(clean.every((x, i) => x === voice[i])).toBe(true);
  });

  it('leaves what lies over its frequency', async () => {
    const out = await run('plosive-removal', {}, spoiled);
    const high = async (samples: Float32Array) =>
      run('high-pass', { frequencyHz: 400, slopeDbPerOctave: 48 }, difference(samples, spoiled));
    expect(levelDb(await high(out)) - levelDb(voice)).toBeLessThan(-50);
  });
});

describe('declip', () => {
  const original = mixed(
    babble(6, RATE).map((x) => 0.4 * x),
    noise(0.0005, 6, RATE),
  );
  const peak = original.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  const ceiling = 0.6 * peak;
  const clipped = original.map((x) => Math.max(-ceiling, Math.min(ceiling, x)));

  it('brings peaks back: the error falls by more than 6 dB', async () => {
    const out = await run('declip', {}, clipped);
    const [before, after] = [clipped, out].map((samples) => levelDb(difference(samples, original)));
    expect(before - after).toBeGreaterThan(6);
  });

  it('changes no sample that was not cut', async () => {
    const out = await run('declip', {}, clipped);
    for (let i = 0; i < out.length; i++)
      if (Math.abs(clipped[i]) < ceiling - 0.001 && out[i] !== clipped[i]) throw new Error(`sample ${i} was changed`);
  });

  it('stays within its headroom, and never goes under the flat top', async () => {
    const out = await run('declip', { headroomDb: 3 }, clipped);
    const most = out.reduce((top, x) => Math.max(top, Math.abs(x)), 0);
    expect(most).toBeGreaterThan(ceiling * 1.05);
    expect(most).toBeLessThan(ceiling * 10 ** (3 / 20) + 1e-4);
    for (let i = 0; i < out.length; i++)
      if (clipped[i] === ceiling) expect(out[i]).toBeGreaterThanOrEqual(ceiling - 1e-4);
  });

  it('leaves a recording without flat tops alone, and says so', async () => {
    const { output, reports } = await processBlock([{ kind: 'declip' }], [joined(original, original)], RATE);
    expect(reports[0].findings.note).toMatch(/No flat tops/);
    expect(levelDb(difference(output[0], joined(original, original)))).toBe(Number.NEGATIVE_INFINITY);
  });
});

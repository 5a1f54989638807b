import { babble, levelDb, mixed, noise, processBlock, sine } from '../testing/index.ts';
import { isIdentity, toResult } from '../time/time-map.ts';

/** Speech-like bursts: a buzz through two resonances, in syllables of 0.2 s that never sink to nothing, at known times. */
function bursts(
  times: readonly [from: number, to: number][],
  seconds: number,
  rate: number,
  amplitude = 0.2,
): Float32Array {
  const out = new Float32Array(Math.round(seconds * rate));
  for (const [from, to] of times) {
    const [first, last] = [Math.round(from * rate), Math.round(to * rate)];
    for (let i = first; i < last; i++) {
      const t = (i - first) / rate;
      const pitch = 110 + 15 * Math.sin(2 * Math.PI * 1.3 * t);
      let sum = 0;
      for (let h = 1; h <= 30 && h * pitch < 0.45 * rate; h++) {
        const hz = h * pitch;
        const resonance = 1 / (1 + ((hz - 550) / 150) ** 2) + 0.6 / (1 + ((hz - 1500) / 250) ** 2) + 0.05;
        sum +=
          resonance *
          Math.sin(2 * Math.PI * h * (110 * t - (15 / 2 / Math.PI / 1.3) * Math.cos(2 * Math.PI * 1.3 * t)));
      }
      const syllable = 0.45 + 0.55 * Math.sin(Math.PI * ((t / 0.2) % 1)) ** 2;
      const ramp = Math.min(1, (i - first) / (0.004 * rate), (last - i) / (0.004 * rate));
      out[i] = (amplitude / 3) * sum * syllable * ramp;
    }
  }
  return out;
}

/** Where a signal stands out of its room, by 2 ms: runs of it, bridged over 0.1 s. */
function heardRuns(samples: Float32Array, rate: number, overDb: number): [number, number][] {
  const piece = Math.round(0.002 * rate);
  const runs: [number, number][] = [];
  for (let at = 0; at + piece <= samples.length; at += piece) {
    if (levelDb(samples.subarray(at, at + piece)) < overDb) continue;
    const last = runs.at(-1);
    if (last && at / rate - last[1] < 0.1) last[1] = (at + piece) / rate;
    else runs.push([at / rate, (at + piece) / rate]);
  }
  return runs;
}

const TIMES: [number, number][] = [
  [1.31, 3.3],
  [3.72, 5.0],
  [8.13, 9.4],
  [10.2, 12.05],
  [16.0, 18.2],
];
const SECONDS = 21.4;

describe.each([
  [48_000, -68],
  [44_100, -60],
  [16_000, -75],
  [8_000, -66],
])('at %d Hz over a room of %d dBFS', (rate, roomDb) => {
  const room = noise(10 ** (roomDb / 20), SECONDS, rate, 3);
  const input = mixed(bursts(TIMES, SECONDS, rate), room);
  // a burst begins and ends within a few milliseconds of its time, by a threshold well over the room
  const over = roomDb + 14;

  it('trim-ends: speech begins and ends at these times within 20 ms, with room tone without seam or level step', async () => {
    for (const [headSeconds, tailSeconds] of [
      [0.5, 1],
      [3, 5],
      [0, 0.2],
    ]) {
      const settings = { headSeconds, tailSeconds };
      const { output, reports } = await processBlock([{ kind: 'trim-ends', settings }], [input], rate);
      const runs = heardRuns(output[0], rate, over);
      expect(Math.abs(runs[0][0] - headSeconds)).toBeLessThan(0.02);
      expect(Math.abs(output[0].length / rate - runs.at(-1)![1] - tailSeconds)).toBeLessThan(0.02);
      // in between nothing has moved against itself
      expect(runs.at(-1)![1] - runs[0][0]).toBeCloseTo(18.2 - 1.31, 1);
      const map = reports[0].timeMap!;
      expect(toResult(map, 5)).toBeCloseTo(5 - 1.31 + runs[0][0], 1);
      expect(map.at(-1)![1]).toBeCloseTo(output[0].length / rate, 6);
      // the room's level holds in every tenth of a second of head and tail
      const [head, tail] = [
        output[0].subarray(0, Math.max(0, headSeconds - 0.03) * rate),
        output[0].subarray((runs.at(-1)![1] + 0.03) * rate),
      ];
      for (const quiet of [head, tail])
        for (let at = 0; at + 0.1 * rate < quiet.length; at += 0.1 * rate)
          expect(Math.abs(levelDb(quiet.subarray(at, at + 0.1 * rate)) - roomDb)).toBeLessThan(
            at < 0.02 * rate ? 3 : 1.5,
          );
    }
  });

  it('shorten-pauses: longer pauses become what is asked within 20 ms, others stay to the sample', async () => {
    for (const [longestSeconds, keepPercent] of [
      [0.6, 0],
      [0.6, 25],
      [0.2, 0],
      [2, 10],
    ]) {
      const settings = { longestSeconds, keepPercent };
      const { output, reports } = await processBlock([{ kind: 'shorten-pauses', settings }], [input], rate);
      const before = heardRuns(input, rate, over);
      const runs = heardRuns(output[0], rate, over);
      expect(runs.length).toBe(TIMES.length);
      for (let i = 1; i < runs.length; i++) {
        const was = before[i][0] - before[i - 1][1];
        const is = runs[i][0] - runs[i - 1][1];
        const wanted = was <= longestSeconds ? was : longestSeconds + (keepPercent / 100) * (was - longestSeconds);
        expect(Math.abs(is - wanted)).toBeLessThan(0.02);
      }
      // ends stay, words stay
      expect(runs[0][0]).toBeCloseTo(before[0][0], 2);
      expect(output[0].length / rate - runs.at(-1)![1]).toBeCloseTo(SECONDS - before.at(-1)![1], 2);
      const map = reports[0].timeMap!;
      const at = Math.round(toResult(map, 16.5) * rate);
      expect(output[0].subarray(at, at + 1000)).toEqual(input.subarray(16.5 * rate, 16.5 * rate + 1000));
    }
  });
});

it('shorten-pauses leaves breaths whole, and takes out nothing of a pause that is no room', async () => {
  const rate = 48_000;
  const room = noise(10 ** (-68 / 20), 12, rate, 3);
  const speech = bursts(
    [
      [1, 3],
      [7, 9],
    ],
    12,
    rate,
  );
  const breath = noise(10 ** (-50 / 20), 0.4, rate, 8);
  const input = mixed(speech, room);
  breath.forEach((x, i) => {
    input[Math.round(5.1 * rate) + i] += x * Math.sin((Math.PI * i) / breath.length);
  });
  const { output, reports } = await processBlock(
    [{ kind: 'shorten-pauses', settings: { longestSeconds: 1 } }],
    [input],
    rate,
  );
  const map = reports[0].timeMap!;
  const at = Math.round(toResult(map, 5.15) * rate);
  expect(output[0].subarray(at, at + 0.3 * rate)).toEqual(input.subarray(5.15 * rate, 5.45 * rate));
  expect(12 - output[0].length / rate).toBeCloseTo(3, 1);
});

it('nobody speaks, one frame, none: the ends and pauses stay as they are', async () => {
  for (const input of [noise(0.01, 3, 16_000), new Float32Array(16_000), new Float32Array([0.5]), new Float32Array(0)])
    for (const kind of ['trim-ends', 'shorten-pauses']) {
      const { output, reports } = await processBlock([{ kind }], [input], 16_000);
      expect(output[0]).toEqual(input);
      expect(isIdentity(reports[0].timeMap!)).toBe(true);
    }
});

it('a mark goes with its sound: a step behind keeps to it after pauses were shortened', async () => {
  const rate = 16_000;
  const input = mixed(bursts(TIMES, SECONDS, rate), noise(10 ** (-68 / 20), SECONDS, rate, 3));
  const known = { marks: [{ name: 'Here', startSeconds: 16, endSeconds: 18.2 }] };
  const steps = [
    { kind: 'shorten-pauses', settings: { longestSeconds: 0.5 } },
    { kind: 'gain', settings: { gainDb: -12 }, scope: { marks: ['Here'], crossfadeMs: 0 } },
  ];
  const { output, reports } = await processBlock(steps, [input], rate, 4096, known);
  const plain = await processBlock(steps.slice(0, 1), [input], rate);
  const map = reports[0].timeMap!;
  const gainAt = (s: number) => {
    const from = Math.round(toResult(map, s) * rate);
    return levelDb(output[0].subarray(from, from + 800)) - levelDb(plain.output[0].subarray(from, from + 800));
  };
  expect(gainAt(17)).toBeCloseTo(-12, 2);
  expect(gainAt(11)).toBeCloseTo(0, 6);
});

describe('fade', () => {
  it.each([
    ['linear', (x: number) => x],
    ['equal-power', (x: number) => Math.sin((Math.PI / 2) * x)],
    ['s-curve', (x: number) => (1 - Math.cos(Math.PI * x)) / 2],
  ] as const)('%s is exact at both ends', async (shape, curve) => {
    const settings = { inSeconds: 1, outSeconds: 2, shape };
    const { output } = await processBlock(
      [{ kind: 'fade', settings }],
      [new Float32Array(8 * 8000).fill(1)],
      8000,
      777,
    );
    const [samples] = output;
    for (const n of [0, 1, 1000, 7999]) expect(samples[n]).toBeCloseTo(curve(n / 8000), 6);
    expect(samples[8000]).toBe(1);
    for (const n of [0, 1, 5000, 15_999]) expect(samples[samples.length - 1 - n]).toBeCloseTo(curve(n / 16_000), 6);
  });

  it('two that meet in a short file are shortened alike', async () => {
    const settings = { inSeconds: 3, outSeconds: 1, shape: 'linear' };
    const { output } = await processBlock([{ kind: 'fade', settings }], [new Float32Array(2 * 8000).fill(1)], 8000);
    expect(output[0][6000]).toBeCloseTo(6000 / 12_000, 4);
    expect(output[0][12_000]).toBeCloseTo(1, 3);
    expect(output[0][14_000]).toBeCloseTo(0.5, 3);
  });
});

it('trim-ends and shorten-pauses hold on a voice with pauses, one after the other, however blocks are cut', async () => {
  const rate = 24_000;
  const voice = mixed(babble(14, rate), noise(10 ** (-66 / 20), 14, rate, 4), sine(50, 0.002, 14, rate));
  const steps = [
    { kind: 'trim-ends', settings: { headSeconds: 0.4, tailSeconds: 2 } },
    { kind: 'shorten-pauses', settings: { longestSeconds: 0.5 } },
  ];
  const whole = await processBlock(steps, [voice], rate, voice.length);
  const small = await processBlock(steps, [voice], rate, 997);
  expect(small.output).toEqual(whole.output);
  const maps = whole.reports.map(({ timeMap }) => timeMap!);
  expect(maps[1].at(-1)![1]).toBeCloseTo(whole.output[0].length / rate, 6);
});

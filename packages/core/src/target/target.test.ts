import { LoudnessMeter } from '../measure/loudness.ts';
import type { SoundFigures } from '../measure/measurement.ts';
import { changeLayout } from '../signal/change-layout.ts';
import { cut, MemorySignal } from '../signal/memory.ts';
import { speakersOfMask } from '../signal/speakers.ts';
import { babble, mixed, noise } from '../testing/index.ts';
import { reasonsOff } from './explain.ts';
import { applyPlan, correctedPlan, firstPlan, settledPlan } from './finish.ts';
import { layOut } from './lay-out.ts';
import { SHIPPED_TARGETS } from './shipped-targets.ts';
import { type Limit, targetFile } from './target-file.ts';
import { judge } from './verdict.ts';

const limit = (measure: Limit['measure'], min: number | null, max: number | null, required = true): Limit => ({
  measure,
  min,
  max,
  required,
});
const figures = (values: Partial<SoundFigures>) => ({ rmsDbfs: -20, ...values }) as SoundFigures;

describe('judge', () => {
  it('says over and under, and by how much', () => {
    const { verdict, limits } = judge(
      [limit('integratedLufs', -17, -15), limit('truePeakDbtp', null, -1), limit('noiseFloorDbfs', -70, null)],
      figures({ integratedLufs: -13.5, truePeakDbtp: -1, noiseFloorDbfs: -74 }),
    );
    expect(verdict).toBe('off-target');
    expect(limits.map(({ result, by }) => [result, by])).toEqual([
      ['over', 1.5],
      ['within', 0],
      ['under', 4],
    ]);
  });

  it('lets an advisory limit be missed', () => {
    expect(judge([limit('loudnessRangeLu', null, 12, false)], figures({ loudnessRangeLu: 20 }))).toMatchObject({
      verdict: 'within',
      limits: [{ result: 'over', by: 8, required: false }],
    });
  });

  it('never takes silence as within', () => {
    const silent = figures({ rmsDbfs: null, integratedLufs: null, truePeakDbtp: null });
    expect(judge([limit('truePeakDbtp', null, -1)], silent).verdict).toBe('off-target');
    expect(judge([limit('integratedLufs', -17, -15)], silent).limits[0]).toMatchObject({
      value: null,
      result: 'under',
      by: null,
    });
  });
});

describe('target files', () => {
  it('ship with the ten names and survive their own schema', () => {
    expect(SHIPPED_TARGETS.length).toBe(10);
    for (const target of SHIPPED_TARGETS) expect(targetFile.parse(JSON.parse(JSON.stringify(target)))).toEqual(target);
  });

  it.each([[{ measure: 'rmsDbfs' }], [{ measure: 'rmsDbfs', min: 1, max: 0 }], [{ measure: 'beauty', max: 1 }]])(
    'refuse the limit %j',
    (bad) => {
      expect(targetFile.safeParse({ name: 'x', limits: [bad], output: { container: 'wav' } }).success).toBe(false);
    },
  );
});

describe('finish', () => {
  const RATE = 48000;
  const target = targetFile.parse({
    name: 't',
    limits: [
      { measure: 'integratedLufs', min: -20, max: -18, aim: -19 },
      { measure: 'truePeakDbtp', max: -1 },
    ],
    output: { container: 'wav', sampleRateHz: 44100, channels: 1 },
  });

  it('lands a stereo voice at 48 kHz on -19 LUFS, mono, at 44.1 kHz', async () => {
    const voice = mixed(babble(6, RATE), noise(0.0005, 6, RATE)).map((x) => 0.1 * x);
    const laidOut = new MemorySignal({ sampleRateHz: 44100, channels: 1 });
    const { heardDb } = await layOut(
      new MemorySignal({ sampleRateHz: RATE, channels: 2 }, [...cut([voice, voice], 4096)]),
      laidOut,
      target,
    );
    const out = new MemorySignal({ sampleRateHz: 44100, channels: 1 });
    await applyPlan(firstPlan(target, heardDb), laidOut, out);
    const meter = new LoudnessMeter({ sampleRateHz: 44100, channels: 1 });
    meter.hear(out.joined());
    expect(Math.abs(meter.conclude().integratedLufs + 19)).toBeLessThan(0.2);
    expect(out.joined()[0].length).toBe(Math.round(6 * 44100));
  });

  it('refuses silence by name', async () => {
    const silence = new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [[new Float32Array(RATE)]]);
    await expect(layOut(silence, new MemorySignal({ sampleRateHz: 44100, channels: 1 }), target)).rejects.toThrow(
      /digital silence/,
    );
  });

  // of every decibel of gain the limiter takes a share: of bursts far over the ceiling, of all of it, of one word
  it.each([
    ['bursts', -19, 2, (x: number, i: number) => (i % 9000 < 40 ? 3 * x : x)],
    ['a dense voice, far up', -9, 3, (x: number) => Math.tanh(3 * x)],
    ['one loud word', -19, 3, (x: number, i: number) => (i > RATE && i < 1.4 * RATE ? 4 * x : x)],
    ['clicks', -16, 3, (x: number, i: number) => (i % 16000 === 0 ? 0.9 : 0.3 * x)],
  ])('finds the gain that lands through the limiter before anything is encoded: %s', async (_, aim, most, shaped) => {
    const voice = mixed(babble(6, RATE), noise(0.001, 6, RATE)).map(shaped);
    const aimed = { ...target, limits: target.limits.map((one) => (one.aim === undefined ? one : { ...one, aim })) };
    const source = new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [[voice]]);
    const laidOut = new MemorySignal({ sampleRateHz: 44100, channels: 1 });
    const heard = await layOut(source, laidOut, aimed);
    const first = firstPlan(aimed, heard.heardDb);
    let passes = 0;
    const blocks = () => {
      passes++;
      return laidOut.blocks();
    };
    const plan = await settledPlan(first, { format: laidOut.format, blocks }, aimed, { laidOut: heard });
    const landed = async (gainDb: number) => {
      const out = new MemorySignal(laidOut.format);
      await applyPlan({ ...plan, gainDb }, laidOut, out);
      const meter = new LoudnessMeter(laidOut.format);
      meter.hear(out.joined());
      return meter.conclude().integratedLufs;
    };
    expect(Math.abs((await landed(first.gainDb)) - aim)).toBeGreaterThan(0.1);
    expect(Math.abs((await landed(plan.gainDb)) - aim)).toBeLessThan(0.03);
    expect(passes).toBeLessThanOrEqual(most);
    expect(plan.ceilingDbtp).toBe(first.ceilingDbtp);
  });

  it('leaves the gain alone where no peak comes near the ceiling', async () => {
    const quiet = new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [[noise(0.01, 3, RATE)]]);
    const first = firstPlan(target, -30);
    expect(await settledPlan(first, quiet, target, { laidOut: { heardDb: -30, peakDb: -30 } })).toBe(first);
  });

  it('corrects gain and ceiling by what the delivery measures, and stops when it has landed', () => {
    const plan = { gainDb: 4, ceilingDbtp: -1.25, headroomDb: 0.25, arriving: 0.5 };
    expect(correctedPlan(target, plan, figures({ integratedLufs: -19.4, truePeakDbtp: -0.8 }))).toEqual({
      gainDb: expect.closeTo(4.8, 6), // half of what is added arrives
      ceilingDbtp: expect.closeTo(-1.7, 6),
      arriving: 0.5,
      headroomDb: 0.5, // what was not enough is followed by something bolder
    });
    expect(correctedPlan(target, plan, figures({ integratedLufs: -19.01, truePeakDbtp: -1.2 }))).toBeUndefined();
  });

  it('mixes down to the mean and repeats mono', () => {
    const [left, right] = [new Float32Array([1, 0]), new Float32Array([0, 0.5])];
    expect(changeLayout([left, right], { channels: 2 }, 1)).toEqual([new Float32Array([0.5, 0.25])]);
    expect(changeLayout([left], { channels: 1 }, 2)).toEqual([left, left]);
  });
});

describe('S13: more channels than two', () => {
  const sounding = (c: number) => Array.from({ length: 6 }, (_, i) => Float32Array.of(i === c ? 1 : 0));

  it('goes to stereo by BS.775: centre and surrounds at -3 dB, LFE left out', () => {
    const gains = [0, 1, 2, 3, 4, 5].map((c) => changeLayout(sounding(c), { channels: 6 }, 2).map(([x]) => x));
    const expected = [
      [1, 0],
      [0, 1],
      [Math.SQRT1_2, Math.SQRT1_2],
      [0, 0],
      [Math.SQRT1_2, 0],
      [0, Math.SQRT1_2],
    ];
    gains.flat().forEach((gain, i) => expect(gain).toBeCloseTo(expected.flat()[i], 6));
  });

  it('puts channels of unknown place into the middle, none louder than another', () => {
    const speakers = speakersOfMask(0, 6);
    for (let c = 0; c < 6; c++)
      for (const [x] of changeLayout(sounding(c), { channels: 6, speakers }, 2)) expect(x).toBeCloseTo(1 / 6, 6);
  });
});

describe('S8: gains beyond what is given', () => {
  const aimed = SHIPPED_TARGETS.find(({ name }) => name === 'Audiobook, RMS window')!;

  it.each([
    ['a whisper with a click', 44100, (i: number) => (i === 30000 ? 0.01 : 7.5e-5 * Math.sin(i / 7)), 60],
    ['integers written as floats', 44100, (i: number) => 12000 * Math.sin(i / 7), -98.6],
  ])('%s ends without an error, at a gain that is a number', async (_, rate, sample, gainDb) => {
    const samples = Float32Array.from({ length: 2 * rate }, (__, i) => sample(i));
    const source = new MemorySignal({ sampleRateHz: rate, channels: 1 }, [...cut([samples], 4096)]);
    const laidOut = new MemorySignal(source.format);
    const heard = await layOut(source, laidOut, aimed);
    const plan = await settledPlan(firstPlan(aimed, heard.heardDb), laidOut, aimed, { laidOut: heard });
    expect(Math.abs(plan.gainDb - gainDb)).toBeLessThan(0.5);
    await applyPlan(plan, laidOut, new MemorySignal(source.format));
  });

  it('says that more gain is needed than is given', () => {
    const [limit_] = judge([limit('rmsDbfs', -23, -18)], figures({ rmsDbfs: -24.5 })).limits;
    expect(reasonsOff([limit_], 60)[0]).toMatch(/needs more than 60 dB of gain/);
  });
});

import { cut, MemorySignal } from '../signal/memory.ts';
import type { Block } from '../signal/signal.ts';
import { babble, joined, mixed, noise, sine } from '../testing/index.ts';
import { measureSource } from './meter.ts';

const RATE = 48000;

const measure = async (channels: Block, rate = RATE) =>
  (await measureSource(new MemorySignal({ sampleRateHz: rate, channels: channels.length }, [...cut(channels, 4096)])))
    .figures;
const codes = async (channels: Block, rate = RATE) => (await measure(channels, rate)).warnings.map(({ code }) => code);

it('reads a full-scale sine at -3.01 dBFS RMS, with a crest of 3.01 dB', async () => {
  const { rmsDbfs, crestDb, samplePeakDbfs, durationSeconds } = await measure([sine(997, 1, 1, RATE)]);
  expect(rmsDbfs).toBeCloseTo(-3.01, 2);
  expect(crestDb).toBeCloseTo(3.01, 2);
  expect(samplePeakDbfs).toBeCloseTo(0, 3);
  expect(durationSeconds).toBe(1);
});

it('reads the mean of the worst channel as its offset', async () => {
  const { dcOffset } = await measure([sine(1000, 0.1, 1, RATE), sine(1000, 0.1, 1, RATE).map((x) => x - 0.02)]);
  expect(dcOffset).toBeCloseTo(-0.02, 4);
});

it('has no levels for digital silence, and says how long it lasts', async () => {
  const figures = await measure([new Float32Array(RATE)]);
  expect(figures).toMatchObject({
    integratedLufs: null,
    rmsDbfs: null,
    truePeakDbtp: null,
    noiseFloorDbfs: null,
    crestDb: null,
    digitalSilenceSeconds: 1,
  });
});

describe('noise floor', () => {
  it('is the RMS of the quietest 500 ms: noise of -60 dBFS under a voice', async () => {
    const { noiseFloorDbfs } = await measure([mixed(babble(10, RATE), noise(0.001, 10, RATE))]);
    expect(Math.abs(noiseFloorDbfs! + 60)).toBeLessThan(0.2);
  });

  it('leaves out windows touched by digital silence, but not those with single zeros', async () => {
    const loud = noise(0.1, 2, RATE);
    for (let i = 0; i < loud.length; i += 50) loud[i] = 0;
    const { noiseFloorDbfs, digitalSilenceSeconds } = await measure([joined(loud, new Float32Array(RATE), loud)]);
    expect(Math.abs(noiseFloorDbfs! + 20.1)).toBeLessThan(0.3);
    expect(digitalSilenceSeconds).toBeCloseTo(1, 2);
  });
});

describe('clipping', () => {
  const clippedSine = (ceiling: number) =>
    sine(100, 1.2 * ceiling, 1, RATE).map((x) => Math.max(-ceiling, Math.min(ceiling, x)));

  it.each([1, 0.8])('counts the 200 flat tops of a 100 Hz sine clipped at %d', async (ceiling) => {
    expect((await measure([clippedSine(ceiling)])).clippedRuns).toBe(200);
  });

  it('still counts them under the dither of 16 bits', async () => {
    const dithered = clippedSine(0.8).map(
      (x, i) => Math.round(x * 32768 + ((i * 7919) % 101) / 101 - ((i * 104729) % 103) / 103) / 32768,
    );
    expect((await measure([dithered])).clippedRuns).toBeGreaterThan(180);
  });

  it('takes the coarse steps of 8 bits for what they are', async () => {
    const coarse = babble(8, 8000).map((x) => Math.round(0.2 * x * 128) / 128);
    expect((await measure([coarse], 8000)).clippedRuns).toBe(0);
  });

  it('finds none in a whole sine or in a voice', async () => {
    expect((await measure([sine(100, 0.999, 1, RATE)])).clippedRuns).toBe(0);
    expect((await measure([babble(6, RATE).map((x) => x * 0.3)])).clippedRuns).toBe(0);
  });
});

describe('room tone', () => {
  /** Where `babble` is silent: the first and last second, and every fourth one. */
  const inPause = (seconds: number, total: number) => seconds < 1 || seconds > total - 1 || seconds % 4 >= 3;
  const voice = babble(20, RATE).map((x) => 0.4 * x);

  it.each([[0.0003], [0.003], [0.01]])('finds only pauses, and their level, under noise of RMS %d', async (rms) => {
    const { roomTone } = await measure([mixed(voice, noise(rms, 20, RATE))]);
    expect(roomTone.length).toBeGreaterThan(0);
    for (const { startSeconds, endSeconds, rmsDbfs, confidence } of roomTone) {
      expect(inPause(startSeconds + 0.06, 20) && inPause(endSeconds - 0.06, 20)).toBe(true);
      expect(Math.abs(rmsDbfs - 20 * Math.log10(rms))).toBeLessThan(1);
      expect(confidence).toBeGreaterThan(0);
      expect(confidence).toBeLessThanOrEqual(1);
    }
  });

  it('finds none where somebody speaks throughout', async () => {
    const restless = Float32Array.from({ length: 8 * RATE }, (_, i) => voice[RATE + (i % (2 * RATE))]);
    const { roomTone } = await measure([mixed(restless, noise(0.0003, 8, RATE))]);
    expect(roomTone).toEqual([]);
  });

  it('tells head, tail and the longest pause of a voice', async () => {
    const { headSilenceSeconds, tailSilenceSeconds, longestPauseSeconds } = await measure([
      mixed(voice, noise(0.0003, 20, RATE)),
    ]);
    expect(Math.abs(headSilenceSeconds! - 1)).toBeLessThan(0.12);
    expect(Math.abs(tailSilenceSeconds! - 1)).toBeLessThan(0.12);
    expect(Math.abs(longestPauseSeconds! - 1)).toBeLessThan(0.2);
  });
});

describe('warnings', () => {
  const voice = mixed(babble(8, RATE), noise(0.0005, 8, RATE)).map((x) => 0.3 * x);
  const quiet = noise(0.00002, 8, RATE);

  it('says nothing of a good recording', async () => {
    expect((await codes([voice.map((x) => x)])).filter((code) => code !== 'dc-offset')).toEqual([]);
  });
  it('names a voice on one side only', async () => expect(await codes([voice, quiet])).toContain('one-sided'));
  it('names a flipped side', async () => expect(await codes([voice, voice.map((x) => -x)])).toContain('polarity'));
  it('names an offset of half a percent', async () =>
    expect(await codes([voice.map((x) => x + 0.005)])).toContain('dc-offset'));
  it('names a very low level', async () => expect(await codes([voice.map((x) => x / 100)])).toContain('too-quiet'));
  it('names exact zeros', async () =>
    expect(await codes([joined(voice, new Float32Array(RATE))])).toContain('digital-silence'));
  it('names two voices 12 dB apart', async () => {
    const speech = babble(8, RATE).map((x) => 0.3 * x);
    const two = mixed(
      joined(
        speech,
        speech.map((x) => x / 4),
        speech,
        speech.map((x) => x / 4),
      ),
      noise(0.0002, 32, RATE),
    );
    expect(await codes([two])).toContain('uneven-level');
    expect(await codes([mixed(joined(speech, speech), noise(0.0002, 16, RATE))])).not.toContain('uneven-level');
  });
  it('names samples that are no numbers, and takes them as silence', async () => {
    const broken = voice.slice();
    broken.set([Number.NaN, Number.POSITIVE_INFINITY], 5000);
    const figures = await measure([broken]);
    expect(figures.warnings.map(({ code }) => code)).toContain('bad-samples');
    expect(figures.samplePeakDbfs).toBeLessThan(0);
  });
});

import type { Block } from '@tonos/core';
import { sine } from '@tonos/core/testing';
import { Feeder } from './feeder.ts';
import type { FromFeeder, LiveSteps, Track } from './messages.ts';
import { CHUNK_FRAMES } from './sample-reader.ts';
import { ringMemory, SharedRing } from './shared-ring.ts';

const QUANTUM = 128;

/** Reads the ring as the sound thread does. */
class Ear {
  readonly heard: number[] = [];
  private sounding = false;

  constructor(readonly ring: SharedRing) {}

  listen(quanta: number): void {
    for (let q = 0; q < quanta; q++) {
      const [left, right] = [new Float32Array(QUANTUM), new Float32Array(QUANTUM)];
      this.sounding = this.ring.readQuantum(left, right, this.sounding);
      this.heard.push(...left);
    }
  }
}

describe('SharedRing', () => {
  const ramp = (from: number, frames: number) => Float32Array.from({ length: frames }, (_, i) => (from + i) / 1e6);

  it('gives what was written, in order, over its own end many times', () => {
    const ring = new SharedRing(ringMemory());
    const ear = new Ear(ring);
    ring.playing = true;
    for (let part = 0; part < 40; part++) {
      ring.write(ramp(part * 8192, 8192), ramp(0, 8192), 1);
      ear.listen(64);
    }
    // the first quantum fades in
    expect(ear.heard.slice(QUANTUM)).toEqual([...ramp(0, 40 * 8192)].slice(QUANTUM));
  });

  it('leaves out what a jump makes stale, and fades over the seam', () => {
    const ring = new SharedRing(ringMemory());
    const ear = new Ear(ring);
    ring.playing = true;
    const ones = new Float32Array(4096).fill(1);
    ring.write(ones, ones, 1);
    ear.listen(4);
    ring.jump();
    ring.write(ones, ones, -0.5);
    ear.listen(6);
    const steps = ear.heard.map((value, i) => Math.abs(value - (ear.heard[i - 1] ?? 0)));
    expect(Math.max(...steps)).toBeLessThan(1 / QUANTUM + 1e-6);
    expect(ear.heard.at(-1)).toBe(-0.5);
    expect(ring.ahead).toBe(4096 - 5 * QUANTUM);
  });

  it('is silent while paused, and keeps its place', () => {
    const ring = new SharedRing(ringMemory());
    const ear = new Ear(ring);
    ring.write(ramp(1, 4096), ramp(1, 4096), 1);
    ear.listen(3);
    expect(ear.heard.every((value) => value === 0)).toBe(true);
    expect(ring.ahead).toBe(4096);
  });
});

describe('Feeder', () => {
  /** A file whose samples say where they stand: frame n is n / 2^20. */
  const counting = (track: Track, from: number, frames: number): Promise<Block> => {
    const count = Math.max(0, Math.min(frames, track.frames - from));
    return Promise.resolve([Float32Array.from({ length: count }, (_, i) => (from + i) / 2 ** 20)]);
  };
  const track: Track = { url: '/t', sampleRateHz: 48000, channels: 1, frames: 200_000, boxes: [] };

  function setup(rateHz = 48000, fetchBlock = counting) {
    const ring = new SharedRing(ringMemory());
    ring.playing = true;
    const said: FromFeeder[] = [];
    const asked: number[] = [];
    const feeder = new Feeder({
      ring,
      rateHz,
      fetchBlock: (wanted, from, frames) => {
        asked.push(from);
        return fetchBlock(wanted, from, frames);
      },
      say: (message) => said.push(message),
    });
    endings.push(() => feeder.snippet(0, track, 0, 0));
    return { ring, ear: new Ear(ring), said, asked, feeder };
  }
  /** A piece that ends by itself takes the place of one that goes on. */
  const endings: (() => Promise<void>)[] = [];
  afterEach(async () => {
    for (const end of endings.splice(0)) await end();
  });
  const frameOf = (value: number) => Math.round(value * 2 ** 20);

  /** Listens as fast as the feeder feeds. */
  async function hear({ ear, ring }: { ear: Ear; ring: SharedRing }, frames: number): Promise<void> {
    for (let quanta = Math.ceil(frames / QUANTUM); quanta > 0; quanta--) {
      for (let tries = 0; tries < 500 && !ring.jumpPending && ring.ahead < QUANTUM; tries++)
        await new Promise((resolve) => setTimeout(resolve, 1));
      ear.listen(1);
    }
  }

  it('sounds from the frame asked for, without a gap', async () => {
    const s = setup();
    void s.feeder.go(1, { track, seconds: 100_000 / 48000, loop: null, gainDb: 0 });
    await hear(s, 60_000);
    const start = s.ear.heard.findIndex((value) => frameOf(value) === 100_000 + QUANTUM - 1);
    const heard = s.ear.heard.slice(start, start + 40_000).map(frameOf);
    expect(heard).toEqual(Array.from({ length: 40_000 }, (_, i) => 100_000 + QUANTUM - 1 + i));
    // a chunk at a time, and no more than is needed soon
    expect(s.asked[0]).toBe(Math.floor(100_000 / CHUNK_FRAMES) * CHUNK_FRAMES);
    expect(new Set(s.asked).size).toBe(s.asked.length);
  });

  it('repeats a range to the sample, and says where each turn begins', async () => {
    const s = setup();
    void s.feeder.go(1, {
      track,
      seconds: 1,
      loop: { startSeconds: 1, endSeconds: 1 + 5000 / 48000 },
      gainDb: 0,
    });
    await hear(s, 30_000);
    const heard = s.ear.heard.map(frameOf);
    const start = heard.indexOf(48000 + 4999);
    expect(heard.slice(start, start + 3)).toEqual([52_999, 48_000, 48_001]);
    expect(heard.slice(start + 5000, start + 5003)).toEqual([52_999, 48_000, 48_001]);
    const places = s.said.filter((message) => message.type === 'place');
    expect(places[1]).toMatchObject({ frame: 5000, seconds: 1 });
    expect(places[2]).toMatchObject({ frame: 10_000, seconds: 1 });
  });

  it('goes on behind what steps leave out, over a short turn, and says where it is; a place inside begins behind it', async () => {
    const s = setup();
    const span = (start: number, end: number) => ({ startSeconds: start / 48000, endSeconds: end / 48000 });
    const skips = [span(12_000, 40_000), span(60_000, 90_000)];
    const live: LiveSteps = {
      steps: [],
      findings: {},
      findingsFromSeconds: 0,
      known: { marks: [] },
      removed: false,
      skips,
    };
    void s.feeder.go(1, { track: { ...track, live }, seconds: 10_000 / 48000, loop: null, gainDb: 0 });
    await hear(s, 60_000);
    const heard = s.ear.heard.map(frameOf);
    const at = (frame: number) => heard.indexOf(frame);
    expect(at(11_999) - at(10_200)).toBe(1_799);
    // 20 ms later all of it is what lies behind
    expect(at(45_000) - at(11_999)).toBe(45_000 - 40_000 + 1);
    expect(at(30_000)).toBe(-1);
    expect(at(95_000) - at(59_999)).toBe(95_000 - 90_000 + 1);
    expect(s.said.flatMap((one) => (one.type === 'place' ? Math.round(one.seconds * 48000) : []))).toEqual([
      10_000, 40_000, 90_000,
    ]);
    const inside = setup();
    void inside.feeder.go(1, { track: { ...track, live }, seconds: 20_000 / 48000, loop: null, gainDb: 0 });
    await hear(inside, 5_000);
    expect(inside.ear.heard.map(frameOf)).toContain(42_000);
  });

  it('changes the rate to the device\u2019s: a tone keeps its pitch and level', async () => {
    const tone = sine(1000, 0.5, 4, 44100);
    const file: Track = { url: '/tone', sampleRateHz: 44100, channels: 1, frames: tone.length, boxes: [] };
    const s = setup(48000, (_, from, frames) => Promise.resolve([tone.subarray(from, from + frames)]));
    void s.feeder.go(1, { track: file, seconds: 1, loop: null, gainDb: -6 });
    await hear(s, 20_000);
    const heard = s.ear.heard.slice(-9600);
    const [re, im] = [Math.cos, Math.sin].map((wave) =>
      heard.reduce((sum, value, i) => sum + value * wave((2 * Math.PI * 1000 * i) / 48000), 0),
    );
    expect((2 * Math.hypot(re, im)) / heard.length).toBeCloseTo(0.5 * 10 ** (-6 / 20), 4);
  });

  it('says where the file ends, and measures on the way', async () => {
    const tone = sine(1000, 10 ** (-23 / 20), 5, 48000);
    const file: Track = { url: '/tone', sampleRateHz: 48000, channels: 2, frames: tone.length, boxes: [] };
    const s = setup(48000, (_, from, frames) =>
      Promise.resolve([tone.subarray(from, from + frames), tone.subarray(from, from + frames)]),
    );
    void s.feeder.go(7, { track: file, seconds: 1, loop: null, gainDb: 0 });
    await hear(s, 4 * 48000 + 512);
    expect(s.said.find(({ type }) => type === 'end')).toMatchObject({ asked: 7, frame: 4 * 48000 });
    const readings = s.said.filter((message) => message.type === 'reading');
    expect(readings).toHaveLength(40);
    const last = readings.at(-1)!.reading;
    // EBU Tech 3341, case 1: M = S = I = -23.0 LUFS; a stereo sine of -23 dBFS
    for (const value of [last.momentaryLufs, last.shortTermLufs, last.integratedLufs])
      expect(Math.abs(value! + 23)).toBeLessThan(0.1);
    expect(Math.abs(last.truePeakDbtp! + 23)).toBeLessThan(0.05);
    expect(last.correlation).toBeCloseTo(1, 6);
  });

  it('turns boxes down, the same from wherever it begins', async () => {
    const tone = sine(1000, 0.5, 4, 48000);
    const boxes = [{ startSeconds: 1, endSeconds: 2, lowHz: 700, highHz: 1300, gainDb: -20 }];
    const file: Track = { url: '/tone', sampleRateHz: 48000, channels: 1, frames: tone.length, boxes };
    const heardFrom = async (seconds: number, frames: number) => {
      const s = setup(48000, (_, from, count) => Promise.resolve([tone.subarray(from, from + count)]));
      void s.feeder.go(1, { track: file, seconds, loop: null, gainDb: 0 });
      await hear(s, frames);
      const jumped = s.ear.heard.findIndex((x) => x !== 0) - 1;
      return s.ear.heard.slice(jumped);
    };
    const [early, late] = [await heardFrom(0.5, 60_000), await heardFrom(1.25, 24_000)];
    const offset = Math.round(0.75 * 48000);
    for (let i = 2000; i < 12_000; i += 371) expect(late[i]).toBeCloseTo(early[offset + i], 6);
    expect(Math.max(...late.slice(2000, 8000))).toBeCloseTo(0.05, 2);
    expect(Math.max(...early.slice(0, 12_000))).toBeCloseTo(0.5, 2);
  });

  describe('with steps that are being edited', () => {
    const tone = sine(500, 0.25, 8, 48000);
    const file: Track = { url: '/tone', sampleRateHz: 48000, channels: 1, frames: tone.length, boxes: [] };
    const fetched = (_: Track, from: number, frames: number) => Promise.resolve([tone.subarray(from, from + frames)]);
    const gain = (gainDb: number) => ({ id: 'g', kind: 'gain', on: true, mix: 1, settings: { gainDb } });
    const limiter = { id: 'l', kind: 'limiter', on: true, mix: 1, settings: {} };
    const live = (steps: LiveSteps['steps'], removed = false): LiveSteps => ({
      steps,
      findings: {},
      findingsFromSeconds: 0,
      known: { marks: [] },
      removed,
    });
    const peakOf = (samples: number[]) => samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    const steepest = (samples: number[]) =>
      samples.slice(1).reduce((most, x, i) => Math.max(most, Math.abs(x - samples[i])), 0);
    /** A tone of 500 Hz moves by so much between two samples at most. */
    const slope = (amplitude: number) => (2 * Math.PI * 500 * amplitude) / 48000;

    async function hearing(first: LiveSteps) {
      const s = setup(48000, fetched);
      void s.feeder.go(1, { track: { ...file, live: first }, seconds: 2, loop: null, gainDb: 0 });
      await hear(s, 9600);
      return s;
    }

    it('hears a change of a setting within 60 ms, without a click', async () => {
      const s = await hearing(live([gain(0)]));
      s.feeder.change({ ...file, live: live([gain(-12)]) }, 0);
      const at = s.ear.heard.length;
      await hear(s, 9600);
      const after = s.ear.heard.slice(at);
      const quiet = 0.25 * 10 ** (-12 / 20);
      // 20 ms of it are the gain's own ramp
      expect(peakOf(after.slice(0.08 * 48000))).toBeCloseTo(quiet, 3);
      expect(steepest(s.ear.heard.slice(2000))).toBeLessThan(1.05 * slope(0.25));
    });

    it('turns from one set of steps into another, and into the source, in line and without a click', async () => {
      const s = await hearing(live([gain(-6)]));
      for (const steps of [live([gain(-6), limiter]), live([gain(-6), limiter], true), undefined]) {
        s.feeder.change({ ...file, live: steps }, 0);
        await hear(s, 9600);
      }
      const heard = s.ear.heard.slice(2000);
      expect(steepest(heard)).toBeLessThan(1.05 * slope(0.25));
      // the limiter has nothing to take away; what comes after is the source, in its place
      expect(peakOf(heard.slice(2 * 9600 + 4000, 3 * 9600 - 2000))).toBeLessThan(1e-4);
      const last = s.ear.heard.slice(-4000);
      const place = (s.said.find(({ type }) => type === 'place') as { seconds: number }).seconds;
      expect(place).toBe(2);
      expect(peakOf(last)).toBeCloseTo(0.25, 4);
    });

    it('keeps every sample in its place through a latency of 5 ms', async () => {
      const s = setup(48000, counting);
      void s.feeder.go(1, { track: { ...track, live: live([limiter]) }, seconds: 1, loop: null, gainDb: 0 });
      await hear(s, 20_000);
      const start = s.ear.heard.findIndex((value) => value !== 0);
      const frames = s.ear.heard.slice(start + QUANTUM, start + 9000).map(frameOf);
      frames.forEach((frame, i) => {
        if (i > 0) expect(frame - frames[i - 1]).toBe(1);
      });
      expect(frames[0]).toBeLessThan(48_000 + 3 * QUANTUM);
    });

    it('moves to another level on a ramp, and tells what each step does', async () => {
      const s = await hearing(live([{ ...limiter, settings: { ceilingDbtp: -18 } }]));
      s.feeder.change({ ...file, live: live([{ ...limiter, settings: { ceilingDbtp: -18 } }]) }, -6);
      await hear(s, 14_400);
      expect(steepest(s.ear.heard.slice(2000))).toBeLessThan(1.05 * slope(0.25));
      expect(peakOf(s.ear.heard.slice(-4000))).toBeCloseTo(10 ** (-24 / 20), 3);
      const reading = s.said.findLast((message) => message.type === 'reading')!;
      // 0.25 is -12.04 dBFS
      expect(reading.traces.l.gainReductionDb).toBeCloseTo(5.96, 1);
    });
  });

  it('makes silence of samples that are no numbers', async () => {
    const bad = (_: Track, __: number, frames: number) =>
      Promise.resolve([Float32Array.from({ length: frames }, (_x, i) => (i % 50 ? 0.25 : Number.NaN))]);
    const s = setup(48000, bad);
    void s.feeder.go(1, { track, seconds: 0, loop: null, gainDb: 0 });
    await hear(s, 20_000);
    expect(s.ear.heard.every(Number.isFinite)).toBe(true);
    expect(s.ear.heard.slice(-5000).filter((x) => x === 0)).toHaveLength(100);
  });

  it('ends where a loop lies beyond what the file holds, instead of turning for ever', async () => {
    const s = setup(48000, () => Promise.resolve([new Float32Array(0)]));
    await s.feeder.go(3, { track, seconds: 1, loop: { startSeconds: 1, endSeconds: 2 }, gainDb: 0 });
    expect(s.said.at(-1)).toMatchObject({ type: 'end', asked: 3 });
  });

  it('tells why there is no sound', async () => {
    const s = setup(48000, () => Promise.reject(new Error('Take 3.wav is gone.')));
    await s.feeder.go(1, { track, seconds: 0, loop: null, gainDb: 0 });
    expect(s.said.at(-1)).toEqual({ type: 'trouble', message: 'Take 3.wav is gone.' });
  });

  it('plays a short piece with soft ends, then silence', async () => {
    const s = setup(48000, (_, __, frames) => Promise.resolve([new Float32Array(frames).fill(0.5)]));
    await s.feeder.snippet(1, track, 2, 0);
    s.ear.listen(60);
    const sounding = s.ear.heard.filter((value) => value !== 0).length;
    expect(sounding).toBeGreaterThan(0.06 * 48000);
    expect(sounding).toBeLessThan(0.08 * 48000);
    const steps = s.ear.heard.map((value, i) => Math.abs(value - (s.ear.heard[i - 1] ?? 0)));
    expect(Math.max(...steps)).toBeLessThan(0.01);
  });
});

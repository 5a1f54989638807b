import type { RunItem } from '@tonos/contract';
import { describeStep } from './features/chain-editor/describe-step.ts';
import { verdictText } from './features/run-board/verdict-text.ts';
import { matchGainDb } from './listening/level-match.ts';
import type { Listened } from './listening/listening-slice.ts';
import { drawWave } from './plots/draw-wave.ts';
import { rulerScale } from './plots/ruler-scale.ts';
import { takeNumber } from './steps/take-number.ts';
import { limitText } from './ui/limit-text.ts';
import { clock, timeLeft } from './ui/time.ts';

/** What pages compute before they show it. */

describe('time', () => {
  it.each([
    [clock(7.4, 1), '0:07.4'],
    [clock(59.97, 1), '1:00.0'],
    [clock(847), '14:07'],
    [clock(3723), '1:02:03'],
    [timeLeft(4), 'a few seconds left'],
    [timeLeft(43), 'about 45 s left'],
    [timeLeft(147), 'about 2:30 left'],
  ])('reads %s', (text, expected) => expect(text).toBe(expected));
});

describe('limits', () => {
  it.each([
    [{ measure: 'rmsDbfs', min: -23, max: -18 }, '\u221223 \u2026 \u221218'],
    [{ measure: 'truePeakDbtp', min: null, max: -1 }, '\u2264 \u22121'],
    [{ measure: 'tailSilenceSeconds', min: 1, max: null }, '\u2265 1'],
    [{ measure: 'durationSeconds', min: null, max: 7200 }, '\u2264 2:00:00'],
  ])('%j reads %s', (limit, expected) => expect(limitText(limit)).toBe(expected));
});

describe('rulers', () => {
  it('hold the window and every figure in order', () => {
    const { place, windowStart, windowEnd } = rulerScale(-23, -18, [-30, -20, -17], 'dBFS');
    expect(place(-30)).toBeLessThan(windowStart);
    expect(place(-20)).toBeGreaterThan(windowStart);
    expect(place(-20)).toBeLessThan(windowEnd);
    expect(place(-17)).toBeGreaterThan(windowEnd);
  });

  it('keep a figure that is far off at their edge', () => {
    const { place, windowStart, windowEnd } = rulerScale(-17, -15, [-90, -16], 'LUFS');
    expect(place(-90)).toBeCloseTo(0.03, 5);
    expect(windowEnd - windowStart).toBeGreaterThan(0.05);
  });

  it('are open on the side without a limit', () => {
    expect(rulerScale(null, -1, [-3], 'dBTP').windowStart).toBe(0);
    expect(rulerScale(1, null, [2], 's').windowEnd).toBe(1);
  });
});

describe('level match', () => {
  const track = { url: '', sampleRateHz: 48000, channels: 1, frames: 48000, boxes: [] };
  const listened = (source: number | null, result: number | null): Listened => ({
    name: '',
    source: { track, overview: { recordingId: '' }, loudnessLufs: source, seconds: 1 },
    result: { track, overview: { recordingId: '' }, loudnessLufs: result, seconds: 1 },
  });

  it('turns the louder side down to the quieter one', () => {
    expect(matchGainDb(listened(-43.6, -19.4), 'result')).toBeCloseTo(-24.2, 6);
    expect(matchGainDb(listened(-43.6, -19.4), 'source')).toBe(0);
    expect(matchGainDb(listened(-12, -16), 'source')).toBe(-4);
  });

  it('leaves what has no loudness alone', () => expect(matchGainDb(listened(null, -16), 'result')).toBe(0));
});

describe('verdicts', () => {
  const limit = (measure: string, result: string, by: number, required = true) => ({
    measure,
    min: 0,
    max: 1,
    value: 0,
    result,
    by,
    required,
  });
  const item = (status: string, limits: object[] = []) => ({ status, limits }) as unknown as RunItem;
  it.each([
    [item('within'), 'within'],
    [item('queued'), 'waiting'],
    [item('off-target', [limit('noiseFloorDbfs', 'over', 3.14)]), 'Noise floor over by 3.1\u00a0dB'],
    [
      item('off-target', [
        limit('integratedLufs', 'under', 1),
        limit('truePeakDbtp', 'over', 2),
        limit('loudnessRangeLu', 'over', 9, false),
      ]),
      'True peak over by 2.0\u00a0dB, 1 more',
    ],
    [item('off-target'), 'off target: silence'],
  ])('reads %#', (one, expected) => expect(verdictText(one)).toBe(expected));
});

describe('steps in a line', () => {
  const step = (kind: string, settings: Record<string, unknown> = {}) => ({
    id: 'x',
    kind,
    on: true,
    mix: 1,
    settings,
  });
  it('describe their settings', () =>
    expect(describeStep(step('high-pass', { frequencyHz: 80 }))).toEqual({
      text: '80 Hz, 24 dB per octave',
      wrong: false,
    }));
  it('say what is wrong', () => {
    expect(describeStep(step('gain', { gainDb: 999 })).wrong).toBe(true);
    expect(describeStep(step('phaser')).text).toMatch(/"phaser" is not known/);
  });
});

it('takes a number that is typed once it lies in its range, its last zero included', () => {
  const taken: number[] = [];
  for (const typed of ['', '-', '9', '9.0', 12, 99]) takeNumber(typed, -24, 24, (value) => taken.push(value));
  expect(taken).toEqual([9, 9, 12]);
});

it('draws a wave as far as its samples reach, and silence as a hairline', () => {
  const drawn: number[][] = [];
  const context = {
    clearRect: () => {},
    fillRect: (...box: number[]) => drawn.push(box),
    fillStyle: '',
  } as unknown as CanvasRenderingContext2D;
  drawWave(
    context,
    [
      [-0.5, 1],
      [0, 0],
    ],
    2,
    100,
    '#000',
  );
  expect(drawn).toEqual([
    [0, 0, 1, 75],
    [1, 49.5, 1, 1],
  ]);
});

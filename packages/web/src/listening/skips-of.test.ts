import type { ChainStep } from '@tonos/core';
import { skipsOf } from './skips-of.ts';

const SOUND = { sampleRateHz: 48000, seconds: 30 };
const step = (id: string, kind: string, settings: Record<string, unknown>, more = {}): ChainStep => ({
  id,
  kind,
  on: true,
  mix: 1,
  settings,
  ...more,
});
const trim = step('t', 'trim-ends', { headSeconds: 1, tailSeconds: 1 });
const shorten = step('p', 'shorten-pauses', { longestSeconds: 1 });
const pause = (startSeconds: number, endSeconds: number) => ({
  startSeconds,
  endSeconds,
  quiet: [{ startSeconds, endSeconds }],
});
const trimmed = { frames: 30 * 48000, speech: { startSeconds: 5, endSeconds: 25 }, roomTone: [] };
const chain = (findings: Record<string, object>, more = {}) => ({
  findings: findings as never,
  findingsFromSeconds: 0,
  known: { marks: [] },
  ...more,
});
const rounded = (spans: ReturnType<typeof skipsOf>) =>
  spans.map(({ startSeconds, endSeconds }) => [startSeconds, endSeconds].map((s) => Math.round(1000 * s) / 1000));

it('ends that are trimmed and middles of pauses, each in the recording\u2019s own time', () => {
  // behind the trimmed head a pause from 10 to 13 s lies 4 s earlier
  const findings = { t: trimmed, p: { frames: 0, speech: null, pauses: [pause(6, 9)] } };
  expect(rounded(skipsOf([trim, shorten], chain(findings), SOUND))).toEqual([
    [0, 4],
    [10.5, 12.5],
    [26, 30],
  ]);
  expect(rounded(skipsOf([shorten], chain(findings), SOUND))).toEqual([[6.5, 8.5]]);
});

it('nothing of a step that was not studied, of one that leaves nothing out, of what is no longer than asked', () => {
  expect(skipsOf([trim, shorten], chain({}), SOUND)).toEqual([]);
  expect(skipsOf([step('h', 'high-pass', {})], chain({ h: {} }), SOUND)).toEqual([]);
  expect(skipsOf([shorten], chain({ p: { frames: 0, speech: null, pauses: [pause(3, 3.9)] } }), SOUND)).toEqual([]);
});

it('only inside the marks that a step is kept to, and where a stretch was studied, from there on', () => {
  const findings = { p: { frames: 0, speech: null, pauses: [pause(2, 4), pause(8, 11)] } };
  const scoped = { ...shorten, scope: { marks: ['slow'], crossfadeMs: 20 } };
  const known = { marks: [{ name: 'slow', startSeconds: 17, endSeconds: 22 }] };
  expect(rounded(skipsOf([scoped], chain(findings, { known, findingsFromSeconds: 10 }), SOUND))).toEqual([
    [18.5, 20.5],
  ]);
});

it('behind another pace: in the recording\u2019s own time', () => {
  // at twice the pace a pause from 2 to 4 s is one from 4 to 8 s of the recording; half a second stays on either side, a second there
  const faster = step('f', 'pace', { tempoPercent: 200 });
  const findings = { f: { frames: 30 * 48000 }, p: { frames: 0, speech: null, pauses: [pause(2, 4)] } };
  expect(rounded(skipsOf([faster, shorten], chain(findings), SOUND))).toEqual([[5, 7]]);
});

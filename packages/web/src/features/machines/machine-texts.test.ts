import type { Machines } from '@tonos/contract';
import { isDeserted, stateText, underWayText } from './machine-texts.ts';

const none = { threads: 2, doing: [], measuring: 0 };
const still: Machines = { machines: [], here: none, waiting: 0, queue: { kind: 'process', status: 'ready' } };
const item = { runId: 'r', itemId: 'i' };

it.each<[Partial<Machines>, string]>([
  [{}, 'Nothing is under way'],
  [{ here: { ...none, doing: [item] } }, '1 recording under way'],
  [{ here: { ...none, doing: [item], measuring: 2 }, waiting: 7 }, '3 recordings under way \u00b7 7 waiting'],
  [{ queue: { kind: 'redis', status: 'away' } }, 'Nothing is under way \u00b7 the queue is away'],
])('says what is under way: %j', (part, text) => {
  expect(underWayText({ ...still, ...part })).toBe(text);
});

it('a machine that has a reason not to work rests; one without is ready', () => {
  expect(stateText({ state: 'resting', reason: null })).toBe('ready');
  expect(stateText({ state: 'resting', reason: 'The disk of its cache is full.' })).toBe('rests');
  expect(stateText({ state: 'working', reason: 'The disk of its cache is full.' })).toBe('working');
});

it('a server that leaves work to others needs somebody who takes it', () => {
  const machine = { ...none, state: 'lost' } as unknown as Machines['machines'][number];
  const left = { ...still, here: { ...none, threads: 0 } };
  expect(isDeserted(still)).toBe(false);
  expect(isDeserted(left)).toBe(true);
  expect(isDeserted({ ...left, machines: [machine] })).toBe(true);
  expect(isDeserted({ ...left, machines: [machine, { ...machine, state: 'resting' }] })).toBe(false);
});

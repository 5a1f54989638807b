import type { Recording } from '@tonos/contract';
import { findSessions } from './find-sessions.ts';

const SENT = '2026-11-30T12:00:00Z';
const recording = (name: string, seconds = 600, more: object = {}): Recording =>
  ({
    ...{ id: name, name, kind: 'voice', status: 'ready', createdAt: SENT, tags: {} },
    measurement: { durationSeconds: seconds, headSilenceSeconds: 0.5 },
    ...more,
  }) as unknown as Recording;
const found = (...recordings: Recording[]) => findSessions(recordings);

it.each([
  ['12 host.wav', '12 guest.wav'],
  ['1 Host microphone.flac', '2 Guest microphone.flac'],
  ['Night Shift 41_boom.wav', 'Night Shift 41_lav.wav'],
  ['talk (ada).wav', 'talk (ben).wav'],
])('“%s” and “%s” are of one session', (a, b) => {
  expect(found(recording(a), recording(b, 601))).toEqual([[a, b]]);
});

it.each([
  ['Chapter 1.wav', 'Chapter 2.wav'],
  ['01 The salt road.flac', '02 A measure of light.flac'],
  ['Host.wav', 'Guest.wav'],
  ['12 host.wav', '13 guest take 2.wav'],
  ['12 host.wav', '13 host.wav'],
])('“%s” and “%s” are not', (a, b) => {
  expect(found(recording(a), recording(b))).toEqual([]);
});

it('takes what recorders wrote of their begin before all names', () => {
  const begun = (timeReferenceSeconds: number) => ({ tags: { timeReferenceSeconds } });
  expect(found(recording('A.wav', 600, begun(36_000)), recording('X9.wav', 605, begun(36_020)))).toHaveLength(1);
  expect(found(recording('12 host.wav', 600, begun(36_000)), recording('12 guest.wav', 600, begun(40_000)))).toEqual(
    [],
  );
});

it('asks about three at once, and never about what was sent hours apart, is much shorter, or is no voice yet', () => {
  const three = ['ada', 'ben', 'cy'].map((who) => recording(`talk ${who}.wav`));
  expect(found(...three)).toEqual([three.map(({ id }) => id)]);
  const host = recording('12 host.wav');
  for (const other of [
    recording('12 guest.wav', 600, { createdAt: '2026-11-30T15:00:00Z' }),
    recording('12 guest.wav', 590),
    recording('12 guest.wav', 600, { kind: 'music' }),
    recording('12 fan.wav', 600, { measurement: { durationSeconds: 600, headSilenceSeconds: null } }),
    recording('12 guest.wav', 600, { status: 'measuring', measurement: null }),
  ])
    expect(found(host, other)).toEqual([]);
});

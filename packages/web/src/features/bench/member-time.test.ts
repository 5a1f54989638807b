import type { RecordingSet } from '@tonos/contract';
import { laidLater, onTimeOf } from './member-time.ts';

const member = (recordingId: string, offsetSeconds: number, driftPpm = 0) => ({
  recordingId,
  offsetSeconds,
  driftPpm,
  confidence: 0.9,
});
const set = (...members: RecordingSet['members']): RecordingSet => ({ id: 's', titleId: 't', members, createdAt: '' });

it('a moment of one member is found on the time of another, whose clock runs otherwise', () => {
  const [host, guest] = [member('host', 0), member('guest', 10, 100)];
  const { fromSeconds, toSeconds } = onTimeOf(host, guest, { fromSeconds: 10, toSeconds: 1010 });
  expect(fromSeconds).toBeCloseTo(0, 9);
  expect(toSeconds).toBeCloseTo(1000.1, 9);
  const back = onTimeOf(guest, host, { fromSeconds, toSeconds });
  expect(back.toSeconds).toBeCloseTo(1010, 9);
});

it('who is laid by hand moves alone; the first one stays the measure, and all others move', () => {
  const both = set(member('host', 0), member('guest', 1.8), member('room', 4));
  expect(laidLater(both, 'guest', 0.25).map((one) => [one.offsetSeconds, one.confidence])).toEqual([
    [0, 0.9],
    [2.05, 1],
    [4, 0.9],
  ]);
  expect(laidLater(both, 'host', 0.5).map(({ offsetSeconds }) => offsetSeconds)).toEqual([0, 1.3, 3.5]);
});

import type { Recording, RecordingSet } from '@tonos/contract';
import { setSound } from './set-sound.ts';

const recording = (id: string, durationSeconds: number, more = {}) =>
  ({
    id,
    name: id,
    boxes: [],
    measurement: { sampleRateHz: 48000, channels: 1, durationSeconds, samplePeakDbfs: -1, ...more },
  }) as unknown as Recording;
const host = recording('host', 60);
const guest = recording('guest', 50, { sampleRateHz: 44100 });
const member = (recordingId: string, offsetSeconds: number, driftPpm = 0) => ({
  recordingId,
  offsetSeconds,
  driftPpm,
  confidence: 1,
});
const setOf = (...members: RecordingSet['members']): RecordingSet => ({
  id: 's',
  titleId: 't',
  members,
  createdAt: '',
});
const partsOf = (sound: ReturnType<typeof setSound>) => sound!.track.programme!.groups[0].parts;

it('lays each member where it belongs on the time of the one that is looked at', () => {
  const set = setOf(member('host', 0), member('guest', 1.5));
  const sound = setSound(host, set, [host, guest], null);
  expect(sound!.track).toMatchObject({ sampleRateHz: 48000, channels: 1, frames: 60 * 48000 });
  const [one, other] = partsOf(sound);
  expect(one).toMatchObject({ fromSeconds: 0, placed: { start: 0, end: 60 * 48000 } });
  expect(other).toMatchObject({ fromSeconds: 0, placed: { start: 72000, end: 51.5 * 48000 } });
  // on the guest's own time the host's began before it
  const turned = partsOf(setSound(guest, set, [host, guest], 'host'));
  expect(turned).toHaveLength(1);
  expect(turned[0].placed).toMatchObject({ start: 0, end: 50 * 44100 });
  expect(turned[0].fromSeconds).toBeCloseTo(1.5, 9);
});

it('keeps a clock that runs otherwise in step within a millisecond or two, over crossfades that lose nothing', () => {
  const drift = 60;
  const parts = partsOf(setSound(host, setOf(member('host', 0), member('guest', 2, drift)), [host, guest], 'guest'));
  expect(parts.length).toBe(3);
  for (const { placed, fromSeconds } of parts) {
    const wanted = (placed.start / 48000 - 2) * (1 + drift * 1e-6);
    expect(Math.abs(fromSeconds - wanted)).toBeLessThan(1e-6);
  }
  parts.slice(1).forEach(({ placed }, i) => {
    expect(parts[i].placed.end - placed.start).toBe(placed.fadeIn.frames);
    expect(parts[i].placed.fadeOut.frames).toBe(placed.fadeIn.frames);
  });
});

it('has room for all of it, and nothing to hear of what is not measured or not linked', () => {
  const set = setOf(member('host', 0), member('guest', 0));
  const [{ gainDb }] = setSound(host, set, [host, guest], null)!.track.programme!.groups;
  // two peaks of -1 dBFS at once are 5.02 dBFS
  expect(gainDb).toBeCloseTo(-5.02, 2);
  expect(setSound(host, set, [host, guest], 'host')!.track.programme!.groups[0].gainDb).toBe(0);
  expect(setSound(host, set, [host], 'guest')).toBeUndefined();
  expect(setSound(recording('stranger', 5), set, [host, guest], null)).toBeUndefined();
});

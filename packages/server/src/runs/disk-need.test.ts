import { readOrder, SHIPPED_TARGETS } from '@tonos/core';
import type { RecordingEntity } from '../recordings/recording-entity.ts';
import { checkRoom, diskNeed } from './disk-need.ts';
import { programmesNeed } from './order-parts.ts';

const target = (name: string) => SHIPPED_TARGETS.find((one) => one.name === name)!;
const hour = { durationSeconds: 3600, sampleRateHz: 48000, channels: 1 };

it('counts every delivery, and the spools of as many items as there are threads', () => {
  const spools = 3600 * 48000 * 4 * 3;
  const mp3 = (3600 * 64_000) / 8;
  expect(diskNeed(target('Podcast, mono'), [], [hour], 4)).toBe(mp3 + spools);
  expect(diskNeed(target('Podcast, mono'), [], [hour, hour, hour], 2)).toBe(3 * mp3 + 2 * spools);
  expect(diskNeed(target('Broadcast, EBU R 128'), [], [hour], 1)).toBe(3600 * 48000 * 3 + spools);
  // played from a copy of 32 bits
  const broadcast = target('Broadcast, EBU R 128');
  const flac = { ...broadcast, output: { ...broadcast.output, container: 'flac' as const } };
  expect(diskNeed(flac, [], [hour], 1)).toBe(3600 * 48000 * (3 + 4) + spools);
});

it('knows that a chain can make a recording longer, on its way or at its end', () => {
  const step = (kind: string, settings: Record<string, unknown>, on = true) => ({ kind, on, mix: 1, settings });
  const need = (...steps: ReturnType<typeof step>[]) => diskNeed(target('Podcast, mono'), steps, [hour], 1);
  const plain = need();
  expect(need(step('pace', { tempoPercent: 50 }))).toBe(2 * plain);
  expect(need(step('pace', { fitSeconds: 5400 }))).toBe(1.5 * plain);
  // what is longest lies between the two
  expect(need(step('pace', { tempoPercent: 50 }), step('pace', { tempoPercent: 200 }))).toBe(2 * plain);
  expect(need(step('shorten-pauses', {}), step('pace', { tempoPercent: 50 }, false))).toBe(plain);
  expect(need(step('reverb', { tailSeconds: 10 }))).toBeCloseTo((plain * 3610) / 3600, -1);
});

it('refuses what could not finish, with the figures', () => {
  expect(() => checkRoom(3e9, 2e9)).toThrow(/needs up to 3\.0 GB.*2\.0 GB are free/);
  expect(() => checkRoom(3e9, 4e9)).not.toThrow();
});

it('counts a programme as long as it will be where that is more than its parts, and as its parts where it can\u2019t be put together', () => {
  const recording = (durationSeconds: number) =>
    ({
      measurement: { durationSeconds, sampleRateHz: 48000, channels: 1 },
      cuts: [],
      marks: [],
    }) as unknown as RecordingEntity;
  const need = (begins: object) => {
    const order = readOrder({
      format: 'tonos.order/1',
      name: 'An evening',
      channels: 1,
      groups: [{ id: 'all' }],
      parts: [
        { id: 'a', group: 'all', source: { recording: 'a' } },
        { id: 'b', group: 'all', source: { recording: 'b' }, begins },
      ],
    });
    const recordings = new Map([
      ['a', recording(2400)],
      ['b', recording(1200)],
    ]);
    return programmesNeed(target('Podcast, mono'), order, [{ recordings }], 1);
  };
  const plain = diskNeed(target('Podcast, mono'), [], [hour], 1);
  expect(need({ with: 'a', offsetSeconds: 0 })).toBe(plain);
  expect(need({ after: 'a', gapSeconds: 3600 })).toBe(2 * plain);
  expect(need({ into: 'a', mark: 'nowhere' })).toBe(plain);
});

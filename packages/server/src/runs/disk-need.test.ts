import { SHIPPED_TARGETS } from '@tonos/core';
import { checkRoom, diskNeed } from './disk-need.ts';

const target = (name: string) => SHIPPED_TARGETS.find((one) => one.name === name)!;
const hour = { durationSeconds: 3600, sampleRateHz: 48000, channels: 1 };

it('counts every delivery, and the spools of as many items as there are threads', () => {
  const spools = 3600 * 48000 * 4 * 3;
  const mp3 = (3600 * 64_000) / 8;
  expect(diskNeed(target('Podcast, mono'), [hour], 4)).toBe(mp3 + spools);
  expect(diskNeed(target('Podcast, mono'), [hour, hour, hour], 2)).toBe(3 * mp3 + 2 * spools);
  expect(diskNeed(target('Broadcast, EBU R 128'), [hour], 1)).toBe(3600 * 48000 * 3 + spools);
});

it('refuses what could not finish, with the figures', () => {
  expect(() => checkRoom(3e9, 2e9)).toThrow(/needs up to 3\.0 GB.*2\.0 GB are free/);
  expect(() => checkRoom(3e9, 4e9)).not.toThrow();
});

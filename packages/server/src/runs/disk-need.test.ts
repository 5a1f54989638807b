import { SHIPPED_TARGETS } from '@tonos/core';
import { checkRoom, diskNeed } from './disk-need.ts';

const target = (name: string) => SHIPPED_TARGETS.find((one) => one.name === name)!;
const hour = { durationSeconds: 3600, sampleRateHz: 48000, channels: 1 };

it('counts every delivery, and the spools of as many items as there are threads', () => {
  const spools = 3600 * 48000 * 4 * 3;
  const mp3 = (3600 * 64_000) / 8;
  expect(diskNeed(target('Podcast, mono'), [], [hour], 4)).toBe(mp3 + spools);
  expect(diskNeed(target('Podcast, mono'), [], [hour, hour, hour], 2)).toBe(3 * mp3 + 2 * spools);
  expect(diskNeed(target('Broadcast, EBU R 128'), [], [hour], 1)).toBe(3600 * 48000 * 3 + spools);
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

import { join } from 'node:path';
import { measureFile } from './measure-file.ts';

/** Synthetic speech in made-up rooms: what was put in is found, and nothing else. */
const DEMO = join(import.meta.dirname, '../../../demo/recordings');

it.each([
  ['The Salt Road Almanac/01 The salt road.flac', []],
  ['The Salt Road Almanac/02 A measure of light.flac', []],
  ['The Salt Road Almanac/03 The weighing house.flac', []],
  ['The Salt Road Almanac/04 Two lanterns.flac', ['too-quiet']],
  ['The Salt Road Almanac/05 What the tide keeps.flac', ['clipped']],
  ['The Salt Road Almanac/06 Nine bells.flac', []],
  ['Night Shift at the Observatory/1 Cold open.flac', []],
  ['Night Shift at the Observatory/2 The guest.flac', ['one-sided', 'digital-silence']],
  ['Night Shift at the Observatory/3 On the roof.flac', []],
  ['Night Shift at the Observatory/4 A call from the valley.flac', ['band-limited']],
  ['Night Shift at the Observatory/5 Two at the desk.flac', ['uneven-level']],
])('%s: %j', async (file, codes) => {
  const { measurement } = await measureFile(join(DEMO, file));
  expect(measurement.warnings.map(({ code }) => code)).toEqual(codes);
  for (const { startSeconds, endSeconds } of measurement.roomTone) {
    expect(endSeconds - startSeconds).toBeGreaterThanOrEqual(0.25);
    expect(endSeconds).toBeLessThanOrEqual(measurement.durationSeconds + 1e-9);
  }
});

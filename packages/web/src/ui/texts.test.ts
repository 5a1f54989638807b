import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { LIMITABLE_MEASURES } from '@tonos/core';
import { formatName } from './format-name.ts';
import { limitText, measureOf } from './limit-text.ts';
import { sizeText } from './size-text.ts';
import { clock, moment, readClock, timeLeft, timeSpan } from './time.ts';

it('P31: says when something was, as the clock here has it', () => {
  const now = new Date(2026, 4, 3, 23, 59);
  const said = (...at: [number, number, number, number, number]) => moment(new Date(...at).toISOString(), now);
  expect(said(2026, 4, 3, 0, 7)).toBe('today, 00:07');
  expect(said(2026, 4, 2, 14, 7)).toBe('2 May 2026, 14:07');
  expect(said(2025, 4, 3, 9, 30)).toBe('3 May 2025, 09:30');
});

describe('clock', () => {
  it.each([
    [0, 0, '0:00'],
    [7.4, 0, '0:07'],
    [7.4, 1, '0:07.4'],
    [7.44, 1, '0:07.4'],
    [59.97, 1, '1:00.0'],
    [59.96, 1, '1:00.0'], // rounded up over the minute, never 0:60.0
    [59.5, 0, '1:00'],
    [847, 0, '14:07'],
    [3599.6, 0, '1:00:00'],
    [3723, 0, '1:02:03'],
    [36000, 0, '10:00:00'],
    [3723.5, 3, '1:02:03.500'],
  ])('shows %d s with %d decimals as %s', (seconds, decimals, text) => {
    expect(clock(seconds, decimals)).toBe(text);
  });

  it('never shows sixty of anything', () => {
    for (let seconds = 0; seconds < 8000; seconds += 3.37)
      for (const decimals of [0, 1, 3]) expect(clock(seconds, decimals)).not.toMatch(/(^|:)60/);
  });
});

it('reads what it shows, to the decimal, and nothing that is no time', () => {
  for (let seconds = 0; seconds < 8000; seconds += 3.375) expect(readClock(clock(seconds, 3))).toBeCloseTo(seconds, 9);
  expect(readClock('62.5')).toBe(62.5);
  expect(readClock(' 1:02,5 ')).toBe(62.5);
  for (const text of ['', 'now', '1:2:3:4', '-3', '1:']) expect(readClock(text)).toBeNull();
});

describe('what is left', () => {
  it.each([
    [3, 'a few seconds left'],
    [4, 'a few seconds left'],
    [12, 'about 10 s left'],
    [43, 'about 45 s left'],
    [88, 'about 90 s left'],
    [95, 'about 1:40 left'],
    [147, 'about 2:30 left'],
    [4000, 'about 1:06:40 left'],
  ])('%d s is told as “%s”', (seconds, text) => {
    expect(timeLeft(seconds)).toBe(text);
  });

  it('claims no more than it knows', () => {
    expect(timeSpan(61.234)).toBe('60 s');
    expect(timeSpan(601)).toBe('10:00');
  });
});

describe('sizes', () => {
  it.each([
    [0, '0\u2009B'],
    [999, '999\u2009B'],
    [1000, '1.0\u2009kB'],
    [45_600, '45.6\u2009kB'],
    [456_000, '456\u2009kB'],
    [1.5e9, '1.5\u2009GB'],
    [7.2e15, '7200\u2009TB'],
  ])('%d bytes are %s', (bytes, text) => {
    expect(sizeText(bytes)).toBe(text);
  });
});

describe('limits', () => {
  it.each([
    [{ measure: 'rmsDbfs', min: -23, max: -18 }, '\u221223 \u2026 \u221218'],
    [{ measure: 'truePeakDbtp', min: null, max: -1 }, '\u2264 \u22121'],
    [{ measure: 'tailSilenceSeconds', min: 1, max: null }, '\u2265 1'],
    [{ measure: 'headSilenceSeconds', min: 0.5, max: null }, '\u2265 0.5'],
    [{ measure: 'durationSeconds', min: null, max: 7200 }, '\u2264 2:00:00'],
  ])('%j reads %s', (limit, text) => {
    expect(limitText(limit)).toBe(text);
  });

  it('know the words and the unit of every measure that can have one', () => {
    for (const measure of Object.keys(LIMITABLE_MEASURES)) {
      expect(measureOf(measure).title).toMatch(/^[A-Z]/);
      expect(measureOf(measure).decimals).toBeGreaterThanOrEqual(0);
    }
  });
});

it('P25: writes formats as they are written', () => {
  expect(['mp3', 'flac', 'wav', 'opus'].map(formatName)).toEqual(['MP3', 'FLAC', 'WAV', 'Opus']);
});

it('P25: no page shows an escape instead of a character', () => {
  const folder = join(import.meta.dirname, '..');
  const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.tsx'));
  // in an attribute's quotes, or between tags, JSX knows no escapes
  const bare = /=\s*"[^"]*\\u[0-9a-f]{4}[^"]*"|>[^<>{}'"`]*\\u[0-9a-f]{4}/;
  expect(files.filter((name) => bare.test(readFileSync(join(folder, name), 'utf8')))).toEqual([]);
});

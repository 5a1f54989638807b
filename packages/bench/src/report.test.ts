import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Comparison } from './compare.ts';
import { report, speedTable, writeInto } from './report.ts';

const comparison = (name: string, ratio: number, more: Partial<Comparison> = {}): Comparison => ({
  name,
  work: 'ten minutes',
  ours: 'tonos measure',
  peer: 'the peer',
  ratio,
  spread: [ratio - 0.1, ratio + 0.1],
  ...more,
});
const SPEEDS = [{ kind: 'high-pass', timesRealTime: 812.4 }];

it('tells the ratio, how it spread, and the memory where it was looked at', () => {
  expect(report([comparison('meter', 4.2), comparison('long', 0.64, { peakBytes: 220_400_000 })]).split('\n')).toEqual([
    'meter: 4.20 x the speed of the peer (4.10 to 4.30; tonos measure, ten minutes)',
    'long: 0.64 x the speed of the peer (0.54 to 0.74; tonos measure, ten minutes); peak memory 220 MB',
  ]);
});

it('names steps by their titles', () => {
  expect(speedTable(SPEEDS).split('\n').at(-1)).toBe('| High-pass | 812 |');
});

it('writes between its marks only: figures anew, a suite that was left out as it was, all else untouched', () => {
  const folder = mkdtempSync(join(tmpdir(), 'tonos-report-'));
  const path = join(folder, 'standards.md');
  try {
    writeFileSync(path, '# Before\n\n- meter: theirs\n<!-- bench begins -->\n<!-- bench ends -->\nafter\n');
    writeInto(path, [comparison('meter', 4), comparison('ten steps', 0.6)], SPEEDS);
    writeInto(path, [comparison('meter', 5)], SPEEDS);
    const lines = readFileSync(path, 'utf8').split('\n');
    expect(lines.filter((line) => line.startsWith('- ')).map((line) => line.slice(0, 22))).toEqual([
      '- meter: theirs',
      '- meter: 5.00 x the sp',
      '- ten steps: 0.60 x th',
    ]);
    expect([lines[0], lines.at(-2)]).toEqual(['# Before', 'after']);
    writeFileSync(path, 'no marks here');
    expect(() => writeInto(path, [], SPEEDS)).toThrow('has no place');
  } finally {
    rmSync(folder, { recursive: true });
  }
});

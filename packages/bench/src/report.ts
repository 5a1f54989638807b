import { readFileSync, writeFileSync } from 'node:fs';
import { stepOfKind } from '@tonos/core';
import type { Comparison } from './compare.ts';
import type { StepSpeed } from './step-speeds.ts';

/** A line a suite: the ratio is what counts, seconds differ from machine to machine. */
export function report(comparisons: readonly Comparison[]): string {
  return comparisons
    .map(
      ({ name, work, ours, peer, ratio, spread: [low, high], peakBytes }) =>
        `${name}: ${ratio.toFixed(2)} x the speed of ${peer} (${low.toFixed(2)} to ${high.toFixed(2)}; ${ours}, ${work})${peakBytes ? `; peak memory ${Math.round(peakBytes / 1e6)} MB` : ''}`,
    )
    .join('\n');
}

/** How fast each step is alone, as a table. */
export const speedTable = (speeds: readonly StepSpeed[]): string =>
  [
    '| step | x real time, one thread, mono at 48 kHz |',
    '| --- | ---: |',
    ...speeds.map(({ kind, timesRealTime }) => `| ${stepOfKind(kind)!.title} | ${Math.round(timesRealTime)} |`),
  ].join('\n');

const [BEGIN, END] = ['<!-- bench begins -->', '<!-- bench ends -->'];

/** Puts the figures between the marks of a document. */
export function writeInto(path: string, comparisons: readonly Comparison[], speeds: readonly StepSpeed[]): void {
  const text = readFileSync(path, 'utf8');
  const [before, rest] = text.split(BEGIN);
  const after = rest?.split(END)[1];
  if (after === undefined) throw new Error(`${path} has no place for the figures of the bench.`);
  const lines = report(comparisons)
    .split('\n')
    .map((line) => `- ${line}`);
  // a suite that was left out this time keeps what it was found to be
  const left = rest
    .split('\n')
    .filter((line) => /^- [\w ]+: /.test(line) && !comparisons.some(({ name }) => line.startsWith(`- ${name}: `)));
  writeFileSync(path, `${before}${BEGIN}\n${[...lines, ...left].join('\n')}\n\n${speedTable(speeds)}\n${END}${after}`);
}

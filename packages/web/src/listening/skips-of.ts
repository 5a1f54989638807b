import { type ChainStep, type Findings, mapOfCuts, stepOf, type TimeSpan, toSource } from '@tonos/core';
import type { ChainListening } from './listening-slice.ts';

/** Shorter stretches are none. */
const LEAST_SECONDS = 0.002;

interface Sound {
  sampleRateHz: number;
  seconds: number;
}

/**
 * What steps leave out of a recording, in its own time and in order. Each step finds its stretches in what the ones before it have left,
 * so they are led back through what these leave out.
 */
export function skipsOf(
  steps: readonly ChainStep[],
  { findings, findingsFromSeconds, known }: Pick<ChainListening, 'findings' | 'findingsFromSeconds' | 'known'>,
  sound: Sound,
): TimeSpan[] {
  let skips: TimeSpan[] = [];
  /** Seconds of the recording in one of what arrives at a step. */
  let tempo = 1;
  for (const step of steps) {
    const found = step.id === undefined ? undefined : findings[step.id];
    const own = found ? leftOutBy(step, found, sound) : [];
    if (found) tempo *= tempoOf(step, found, sound);
    if (!own.length) continue;
    const cuts = skips.map((span, i) => ({ id: String(i), kind: 'take-out' as const, on: true, ...span }));
    const map = mapOfCuts(cuts, sound.seconds);
    const there = own.map(({ startSeconds, endSeconds }) => ({
      startSeconds: toSource(map, startSeconds * tempo, 'after'),
      endSeconds: toSource(map, endSeconds * tempo, 'before'),
    }));
    const marks = known.marks
      .filter(({ name }) => step.scope?.marks.includes(name))
      .map((mark) => ({
        startSeconds: mark.startSeconds - findingsFromSeconds,
        endSeconds: mark.endSeconds - findingsFromSeconds,
      }));
    const within = (span: TimeSpan) =>
      !step.scope || marks.some((mark) => span.startSeconds >= mark.startSeconds && span.endSeconds <= mark.endSeconds);
    skips = joined([...skips, ...there.filter(within)]);
  }
  return skips.map(({ startSeconds, endSeconds }) => ({
    startSeconds: startSeconds + findingsFromSeconds,
    endSeconds: endSeconds + findingsFromSeconds,
  }));
}

/** How fast a step lets it go. */
function tempoOf(step: ChainStep, findings: Findings, { sampleRateHz }: Sound): number {
  const definition = step.scope ? undefined : stepOf(step);
  const parsed = definition?.settings.safeParse(step.settings);
  const pace = parsed?.success && definition?.evenly?.(parsed.data, findings, { sampleRateHz, channels: 1 });
  return pace ? pace.tempo : 1;
}

/** Nothing, where its settings or what was found are of another kind. */
function leftOutBy(step: ChainStep, findings: Findings, { sampleRateHz }: Sound): TimeSpan[] {
  const definition = stepOf(step);
  const parsed = definition?.settings.safeParse(step.settings);
  return (parsed?.success && definition?.leftOut?.(parsed.data, findings, sampleRateHz)) || [];
}

/** In order, those that touch as one. */
function joined(spans: readonly TimeSpan[]): TimeSpan[] {
  const all: TimeSpan[] = [];
  for (const span of [...spans].sort((a, b) => a.startSeconds - b.startSeconds)) {
    if (span.endSeconds - span.startSeconds < LEAST_SECONDS) continue;
    const last = all.at(-1);
    if (last && span.startSeconds <= last.endSeconds)
      all[all.length - 1] = { ...last, endSeconds: Math.max(last.endSeconds, span.endSeconds) };
    else all.push(span);
  }
  return all;
}

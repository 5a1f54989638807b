import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import {
  adjustChain,
  type CancelSignal,
  type ChainStep,
  configureChain,
  type EarlierRun,
  figure,
  knownFindings,
  type LimitResult,
  type Measurement,
  nextRemedy,
  type StepAdjustment,
  type TargetFile,
  type Verdict,
} from '@tonos/core';
import { writerOf } from '@tonos/formats';
import type { MarkedByHand } from './cut-recording.ts';
import { renderFile } from './render-file.ts';

/** Foretelling is rendering: the whole recording goes through the chain and onto the target, and is measured as a delivery is. */

export interface RemedyQuestion {
  sourcePath: string;
  name: string;
  steps: readonly ChainStep[];
  adjustments: readonly StepAdjustment[];
  target: TargetFile;
  byHand?: MarkedByHand;
  /** Where the attempts lie while they are measured. */
  folder: string;
  signal?: CancelSignal;
  /** Of the most that it can take: where it is found sooner, the rest is skipped. */
  progress?: (share: number, stage: string) => void;
}

export interface Foretold {
  verdict: Verdict;
  limits: LimitResult[];
}

export interface Remedy {
  /** All that the recording has otherwise in this chain; empty where nothing helps. */
  adjustments: StepAdjustment[];
  forecast: Foretold;
  /** What it does and what it costs, or why nothing helps. */
  sentence: string;
}

const MOST_ROUNDS = 3;

/** What a recording comes out as with a chain and adjustments. */
async function foretell(
  question: RemedyQuestion,
  earlier?: EarlierRun,
): Promise<Foretold & { after: Measurement; run: EarlierRun }> {
  const { sourcePath, name, target, byHand, folder, signal, progress } = question;
  const outputPath = join(folder, `${randomUUID()}${writerOf(target.output).ending}.part`);
  try {
    const { steps } = adjustChain(question.steps, question.adjustments);
    const chain = configureChain(steps);
    const { after, limits, verdict, findings } = await renderFile({
      sourcePath,
      name,
      chain,
      given: earlier && knownFindings(chain, earlier),
      target,
      byHand,
      outputPath,
      spoolFolder: folder,
      signal,
      progress,
    });
    return { after, limits, verdict: verdict!, run: { steps, reports: findings } };
  } finally {
    await rm(outputPath, { force: true });
  }
}

/** Tries what would bring a recording inside its target, on the whole of it, until it is inside or nothing more helps. */
export async function findRemedy(question: RemedyQuestion): Promise<Remedy> {
  const attempt = (index: number, adjustments: readonly StepAdjustment[], earlier?: EarlierRun) => {
    const progress = (share: number, stage: string) => question.progress?.((index + share) / (MOST_ROUNDS + 1), stage);
    return foretell({ ...question, adjustments, progress }, earlier);
  };
  const present = await attempt(0, question.adjustments);
  if (present.verdict === 'within')
    return {
      adjustments: [...question.adjustments],
      forecast: { verdict: present.verdict, limits: present.limits },
      sentence: 'It is within its target as it is.',
    };
  let best = present;
  let adjustments = question.adjustments;
  const changes: string[] = [];
  let reason = '';
  for (let round = 0; round < MOST_ROUNDS && best.verdict !== 'within'; round++) {
    const next = nextRemedy(question.steps, adjustments, best.limits);
    if ('reason' in next) {
      reason = next.reason;
      break;
    }
    const tried = await attempt(round + 1, next.adjustments, best.run);
    if (missing(tried.limits) >= missing(best.limits)) {
      reason = `${capital(next.change)} was tried, and does not help.`;
      break;
    }
    best = tried;
    adjustments = next.adjustments;
    changes.push(next.change);
  }
  if (best.verdict !== 'within')
    return {
      adjustments: [],
      forecast: { verdict: present.verdict, limits: present.limits },
      sentence: [
        ...(changes.length ? [`${capital(changes.join(', then '))} brings it nearer, but not inside.`] : []),
        reason,
      ]
        .filter(Boolean)
        .join(' '),
    };
  return {
    adjustments: [...adjustments],
    forecast: { verdict: best.verdict, limits: best.limits },
    sentence: `${capital(changes.join(', then '))}; ${costOf(present.after, best.after)}.`,
  };
}

/** How far outside the required limits lie, together. */
const missing = (limits: readonly LimitResult[]): number =>
  limits.reduce((sum, { required, by }) => sum + (required ? (by ?? 100) : 0), 0);

/** What the sound itself loses or gains beside what was wanted. */
function costOf(before: Measurement, after: Measurement): string {
  const change = Math.abs(
    (after.maxShortTermLufs ?? 0) -
      (after.integratedLufs ?? 0) -
      ((before.maxShortTermLufs ?? 0) - (before.integratedLufs ?? 0)),
  );
  const range = (after.loudnessRangeLu ?? 0) - (before.loudnessRangeLu ?? 0);
  return `speech changes by ${figure(change, 1)} dB, its range by ${figure(range, 1)} LU`;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

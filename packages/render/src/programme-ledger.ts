import {
  type Block,
  type Findings,
  heardOnce,
  type LedgerFigures,
  LedgerMeter,
  LoudnessMeter,
  levelOrNull,
  measureLedger,
  NO_FIGURES,
  type StepReport,
  stepsOf,
  turnedUp,
} from '@tonos/core';
import { type ProgrammeJob, programmeOf } from './assemble.ts';
import { withSpools } from './disk-spool.ts';

/** What a running order does to the levels: of each part, each group and the whole, by putting it together without writing it. */

/** What comes to a chain, and behind each of its steps that are on. */
interface ChainAccount {
  before: LedgerFigures;
  steps: { id: string; figures: LedgerFigures }[];
}

export interface ProgrammeLedger {
  lengthSeconds: number;
  /** Each as it comes to its group. */
  parts: { id: string; figures: LedgerFigures; levelDb: number }[];
  /** Each behind its chain and its gain, before it gives way; and what its chain does. */
  groups: ({ id: string; figures: LedgerFigures } & ChainAccount)[];
  /** What the chain of the whole does, and what is behind it. */
  whole: { after: LedgerFigures } & ChainAccount;
  /** Of the whole behind its chain, every half second: null before there are three seconds, and in silence. */
  shortTermLufs: (number | null)[];
  /** What chains learned, by part and group, by step. */
  found: {
    parts: Record<string, Record<string, Findings>>;
    groups: Record<string, Record<string, Findings>>;
    whole: Record<string, Findings>;
  };
}

export const LINE_STEP_SECONDS = 0.5;
/** The series of the loudness meter. */
const VALUES_PER_SECOND = 10;
const FIRST_VALUE_SECONDS = 3;
const GROUPS_SHARE = 0.6;
const INTERIM_SECONDS = 5;

/** @throws InvalidOrderError where the parts can't lie as the order says */
export const ledgerOfProgramme = (job: ProgrammeJob & { spoolFolder: string }): Promise<ProgrammeLedger> =>
  withSpools(job.spoolFolder, async (openSpool) => {
    const { order, signal, progress } = job;
    const ofParts = new Meters();
    const before = new Meters();
    const behindSteps = new Meters();
    const behind = new Meters();
    const { prepared, resolved, programme } = await programmeOf(job, openSpool, {
      part: (id, block, rate) => ofParts.hear(id, block, rate),
      before: (id, block, rate) => before.hear(id, block, rate),
      step: (id, stepId, block, rate) => behindSteps.hear(keyOf(id, stepId), block, rate),
      behind: (id, block, rate) => behind.hear(id, block, rate),
    });
    const { sampleRateHz, frames } = resolved;
    const steps = stepsOf(order.chain);
    const line = new Line(sampleRateHz);
    const last = steps.at(-1)?.id;
    const source = last === undefined ? heardOnce(programme.source, (block) => line.hear(block)) : programme.source;
    const { reports, ...ledger } = await measureLedger(steps, source, {
      openSpool,
      signal,
      heard: (id, block) => {
        if (id === last) line.hear(block);
      },
      frames,
      interimFrames: INTERIM_SECONDS * sampleRateHz,
      interim: (_, share) => progress?.(GROUPS_SHARE + (1 - GROUPS_SHARE) * share, 'the whole'),
    });
    /** Those that sound alike were heard once. */
    const heardAs = new Map([...prepared].reverse().map(([id, own]) => [own, id]));
    return {
      lengthSeconds: frames / sampleRateHz,
      parts: order.parts.map(({ id, gainDb }) => {
        const own = prepared.get(id)!;
        const figures = ofParts.figures(heardAs.get(own)!);
        return { id, figures: turnedUp(figures, gainDb + own.levelDb), levelDb: own.levelDb };
      }),
      groups: order.groups.map(({ id, gainDb, chain }) => {
        const figures = behind.figures(id);
        const own = stepsOf(chain);
        return {
          id,
          figures: turnedUp(figures, gainDb),
          before: own.length ? before.figures(id) : figures,
          steps: own.map((step) => ({ id: step.id, figures: behindSteps.figures(keyOf(id, step.id)) })),
        };
      }),
      whole: {
        before: ledger.source,
        steps: ledger.rows.map((row) => ({ id: row.id, figures: row.figures })),
        after: ledger.rows.at(-1)?.figures ?? ledger.source,
      },
      shortTermLufs: line.values(),
      found: {
        parts: Object.fromEntries([...prepared].map(([id, own]) => [id, findingsOf(own.reports)])),
        groups: Object.fromEntries(Object.entries(programme.reports).map(([id, own]) => [id, findingsOf(own)])),
        whole: findingsOf(reports),
      },
    };
  });

const keyOf = (group: string, step: string): string => JSON.stringify([group, step]);

/** Meters by what they hear, each begun with its first block. */
class Meters {
  private readonly meters = new Map<string, LedgerMeter>();

  hear(key: string, block: Block, sampleRateHz: number): void {
    const meter = this.meters.get(key) ?? new LedgerMeter(sampleRateHz);
    this.meters.set(key, meter);
    meter.hear(block);
  }

  figures(key: string): LedgerFigures {
    return this.meters.get(key)?.conclude() ?? NO_FIGURES;
  }
}

const findingsOf = (reports: readonly StepReport[]): Record<string, Findings> =>
  Object.fromEntries(reports.map(({ id, findings }) => [id, findings]));

/** Short-term loudness over time. A chain may end in another layout than it began in. */
class Line {
  private meter: LoudnessMeter | undefined;

  constructor(private readonly sampleRateHz: number) {}

  hear(block: Block): void {
    this.meter ??= new LoudnessMeter({ sampleRateHz: this.sampleRateHz, channels: block.length }, { series: true });
    this.meter.hear(block);
  }

  values(): (number | null)[] {
    const series = this.meter?.series.shortTermLufs ?? new Float32Array();
    const each = LINE_STEP_SECONDS * VALUES_PER_SECOND;
    const before = FIRST_VALUE_SECONDS / LINE_STEP_SECONDS;
    const count = series.length ? before + Math.ceil(series.length / each) : 0;
    return Array.from({ length: count }, (_, i) => (i < before ? null : levelOrNull(series[(i - before) * each])));
  }
}

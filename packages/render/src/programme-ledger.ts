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

export interface ProgrammeLedger {
  lengthSeconds: number;
  /** Each as it comes to its group. */
  parts: { id: string; figures: LedgerFigures; levelDb: number }[];
  /** Each behind its chain and its gain, before it gives way. */
  groups: { id: string; figures: LedgerFigures }[];
  /** Before the chain of the whole, and behind it. */
  whole: { before: LedgerFigures; after: LedgerFigures };
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
    const ofParts = new Map<string, LedgerMeter>();
    const ofGroups = new Map<string, LedgerMeter>();
    const { prepared, resolved, programme } = await programmeOf(job, openSpool, {
      part: (id, block, sampleRateHz) => meterOf(ofParts, id, sampleRateHz).hear(block),
      group: (id, block) => meterOf(ofGroups, id, programme.source.format.sampleRateHz).hear(block),
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
        const figures = ofParts.get(heardAs.get(own)!)?.conclude() ?? NO_FIGURES;
        return { id, figures: turnedUp(figures, gainDb + own.levelDb), levelDb: own.levelDb };
      }),
      groups: order.groups.map(({ id, gainDb }) => ({
        id,
        figures: turnedUp(ofGroups.get(id)?.conclude() ?? NO_FIGURES, gainDb),
      })),
      whole: { before: ledger.source, after: ledger.rows.at(-1)?.figures ?? ledger.source },
      shortTermLufs: line.values(),
      found: {
        parts: Object.fromEntries([...prepared].map(([id, own]) => [id, findingsOf(own.reports)])),
        groups: Object.fromEntries(Object.entries(programme.reports).map(([id, own]) => [id, findingsOf(own)])),
        whole: findingsOf(reports),
      },
    };
  });

function meterOf(meters: Map<string, LedgerMeter>, id: string, sampleRateHz: number): LedgerMeter {
  const meter = meters.get(id) ?? new LedgerMeter(sampleRateHz);
  meters.set(id, meter);
  return meter;
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

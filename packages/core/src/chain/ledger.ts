import { TruePeakMeter } from '../dsp/true-peak.ts';
import { LevelMeter } from '../measure/levels.ts';
import { LoudnessMeter } from '../measure/loudness.ts';
import type { SoundFigures } from '../measure/measurement.ts';
import { NoiseFloorMeter } from '../measure/noise-floor.ts';
import { gainToDb, levelOrNull, powerToDb } from '../signal/decibels.ts';
import { heardOnce } from '../signal/heard-once.ts';
import { type Block, framesOf, type SignalFormat, type Source } from '../signal/signal.ts';
import type { Findings } from '../steps/step.ts';
import type { ConfiguredStep } from './chain-file.ts';
import { type RunSurroundings, runChain, type StepReport } from './run.ts';

/** The account of what each step of a chain does to the levels. */

/** The measures that a row has. */
export const LEDGER_MEASURES = [
  'integratedLufs',
  'maxShortTermLufs',
  'loudnessRangeLu',
  'truePeakDbtp',
  'samplePeakDbfs',
  'rmsDbfs',
  'noiseFloorDbfs',
] as const satisfies readonly (keyof SoundFigures)[];

export type LedgerFigures = Record<(typeof LEDGER_MEASURES)[number], number | null>;

/** Figures made measure by measure. */
export const ledgerFigures = (figureOf: (measure: keyof LedgerFigures) => number | null): LedgerFigures =>
  Object.fromEntries(LEDGER_MEASURES.map((measure) => [measure, figureOf(measure)])) as LedgerFigures;

export interface LedgerRow {
  /** The step's id. */
  id: string;
  figures: LedgerFigures;
  /** How long the signal is after it, as far as it has been heard. */
  lengthSeconds: number;
}

export interface Ledger {
  source: LedgerFigures;
  /** A row for each step that is on, in order. */
  rows: LedgerRow[];
}

/** The figures of one row while they come in. Its layout is that of the first block. */
export class LedgerMeter {
  private meters:
    | { loudness: LoudnessMeter; truePeak: TruePeakMeter; levels: LevelMeter; floor: NoiseFloorMeter }
    | undefined;

  private frames = 0;

  constructor(private readonly sampleRateHz: number) {}

  get seconds(): number {
    return this.frames / this.sampleRateHz;
  }

  hear(block: Block): void {
    if (!framesOf(block)) return;
    this.frames += framesOf(block);
    const format: SignalFormat = { sampleRateHz: this.sampleRateHz, channels: block.length };
    this.meters ??= {
      loudness: new LoudnessMeter(format),
      truePeak: new TruePeakMeter(format.channels),
      levels: new LevelMeter(format.channels),
      floor: new NoiseFloorMeter(format),
    };
    for (const meter of Object.values(this.meters)) meter.hear(block);
  }

  conclude(): LedgerFigures | undefined {
    if (!this.meters) return undefined;
    const { loudness, truePeak, levels, floor } = this.meters;
    const { integratedLufs, maxShortTermLufs, loudnessRangeLu } = loudness.conclude();
    const { samplePeak, meanSquare } = levels.conclude();
    const { floorPower } = floor.conclude();
    return {
      integratedLufs: levelOrNull(integratedLufs),
      maxShortTermLufs: levelOrNull(maxShortTermLufs),
      loudnessRangeLu,
      truePeakDbtp: levelOrNull(gainToDb(truePeak.conclude())),
      samplePeakDbfs: levelOrNull(gainToDb(samplePeak)),
      rmsDbfs: levelOrNull(powerToDb(meanSquare)),
      noiseFloorDbfs: floorPower === null ? null : levelOrNull(powerToDb(floorPower)),
    };
  }
}

export const NO_FIGURES = ledgerFigures(() => null);

/** What figures become where the sound is turned up: a range stays, and so does what is not known. */
export const turnedUp = (figures: LedgerFigures, gainDb: number): LedgerFigures =>
  ledgerFigures((measure) => {
    const own = figures[measure];
    return own === null || measure === 'loudnessRangeLu' ? own : own + gainDb;
  });

export interface LedgerSurroundings extends RunSurroundings {
  /** Called now and then: what is known by now of the rows that have heard something, if asked, and the share of the work that is done. */
  interim?: (known: () => Ledger, share: number) => void;
  /** How many frames lie between two tellings. */
  interimFrames?: number;
  /** Frames of the source, for the share. */
  frames?: number;
}

/**
 * Runs a chain over a source and measures the source and what every step makes of it, in one go for each pass.
 * @param given findings that spare steps their study
 */
export async function measureLedger(
  chain: readonly ConfiguredStep[],
  source: Source,
  surroundings: LedgerSurroundings,
  given: Readonly<Record<string, Findings>> = {},
): Promise<Ledger & { reports: StepReport[] }> {
  const { sampleRateHz } = source.format;
  const { interim, interimFrames = Number.POSITIVE_INFINITY, frames = Number.POSITIVE_INFINITY } = surroundings;
  const before = new LedgerMeter(sampleRateHz);
  const meters = new Map(chain.map(({ id }) => [id, new LedgerMeter(sampleRateHz)]));
  const state = (): Ledger => ({
    source: before.conclude() ?? NO_FIGURES,
    rows: chain.flatMap(({ id }) => {
      const meter = meters.get(id)!;
      const figures = meter.conclude();
      return figures ? [{ id, figures, lengthSeconds: meter.seconds }] : [];
    }),
  });
  let told = 0;
  let done = 0;
  const reports = await runChain(
    chain,
    heardOnce(source, (block) => before.hear(block)),
    () => ({ write: () => {} }),
    {
      ...surroundings,
      heard: (id, block) => {
        meters.get(id)!.hear(block);
        surroundings.heard?.(id, block);
      },
      progress: (count, pass, passes) => {
        done += count;
        surroundings.progress?.(count, pass, passes);
        if (done - told < interimFrames) return;
        told = done;
        interim?.(state, Math.min(1, done / (frames * passes)));
      },
    },
    given,
  );
  return { ...state(), reports };
}

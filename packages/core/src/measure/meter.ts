import { keeping, MOST_FRAMES } from '@tonos/kernels';
import { HalvedBlocks } from '../dsp/halved-blocks.ts';
import { TruePeakMeter } from '../dsp/true-peak.ts';
import { silenceBadSamples } from '../signal/bad-samples.ts';
import { gainToDb, levelOrNull, powerToDb } from '../signal/decibels.ts';
import { cut } from '../signal/memory.ts';
import type { Block, CancelSignal, SignalFormat, Source } from '../signal/signal.ts';
import { ACTIVITY_HZ, type ActivityFigures, ActivityMeter } from './activity/activity.ts';
import { ClippingMeter } from './clipping.ts';
import { ComplaintMeter } from './complaints/complaint-meter.ts';
import { judgeComplaints } from './complaints/judge-complaints.ts';
import { LevelMeter } from './levels.ts';
import { LoudnessMeter } from './loudness.ts';
import type { SoundFigures } from './measurement.ts';
import { NoiseFloorMeter } from './noise-floor.ts';
import { OverviewMeter } from './overview.ts';
import { PeakMarksMeter } from './peak-marks.ts';
import { PyramidMeter } from './pyramid.ts';
import { SpectrumMeter } from './spectrum.ts';
import type { Survey } from './survey.ts';
import { judgeWarnings } from './warnings.ts';

/** Every measure of a signal in one go, whatever blocks it comes in. */
export class Meter {
  private readonly loudness: LoudnessMeter;
  /** Where peaks are marked, the largest comes of that. */
  private readonly truePeak: TruePeakMeter | undefined;
  private readonly levels: LevelMeter;
  private readonly floor: NoiseFloorMeter;
  private readonly clipping: ClippingMeter;
  private readonly activity: ActivityMeter;
  private readonly complaints: ComplaintMeter;
  private readonly halved: HalvedBlocks;
  private readonly overview = new OverviewMeter();
  private readonly pyramid: PyramidMeter | undefined;
  private readonly spectrum: SpectrumMeter | undefined;
  private readonly peakMarks: PeakMarksMeter | undefined;
  private badSamples = 0;

  /** @param survey also gather what pictures are drawn from */
  constructor(
    private readonly format: SignalFormat,
    { survey = false }: { survey?: boolean } = {},
  ) {
    this.pyramid = survey ? new PyramidMeter(format.channels) : undefined;
    this.spectrum = survey ? new SpectrumMeter(format) : undefined;
    this.peakMarks = survey ? new PeakMarksMeter(format) : undefined;
    this.loudness = new LoudnessMeter(format, { series: survey });
    this.truePeak = survey ? undefined : new TruePeakMeter(format.channels);
    this.levels = new LevelMeter(format.channels);
    this.floor = new NoiseFloorMeter(format);
    this.clipping = new ClippingMeter(format.channels);
    this.halved = new HalvedBlocks(format, ACTIVITY_HZ);
    this.activity = new ActivityMeter(format, this.halved);
    this.complaints = new ComplaintMeter(format, this.halved);
  }

  /** Samples that are no numbers are replaced by silence in the block itself. */
  hear(block: Block): void {
    this.badSamples += silenceBadSamples(block);
    for (const piece of cut(block, MOST_FRAMES)) keeping(piece, () => this.hearPiece(piece));
  }

  private hearPiece(block: Block): void {
    this.loudness.hear(block);
    this.truePeak?.hear(block);
    this.levels.hear(block);
    this.floor.hear(block);
    this.clipping.hear(block);
    for (const { piece, slower } of this.halved.of(block)) {
      this.activity.hearHalved(piece, slower);
      this.complaints.hear(piece, slower);
    }
    this.overview.hear(block);
    this.pyramid?.hear(block);
    this.spectrum?.hear(block);
    this.peakMarks?.hear(block);
  }

  conclude(): { figures: SoundFigures; overview: [number, number][]; survey: Survey | undefined } {
    const levels = this.levels.conclude();
    const loudness = this.loudness.conclude();
    const { floorPower, digitalSilenceSeconds } = this.floor.conclude();
    const activity = this.activity.conclude();
    const durationSeconds = levels.frames / this.format.sampleRateHz;
    const samplePeakDbfs = levelOrNull(gainToDb(levels.samplePeak));
    const rmsDbfs = levelOrNull(powerToDb(levels.meanSquare));
    const figures = {
      durationSeconds,
      integratedLufs: levelOrNull(loudness.integratedLufs),
      maxMomentaryLufs: levelOrNull(loudness.maxMomentaryLufs),
      maxShortTermLufs: levelOrNull(loudness.maxShortTermLufs),
      loudnessRangeLu: loudness.loudnessRangeLu,
      truePeakDbtp: levelOrNull(gainToDb((this.peakMarks?.truePeak() ?? this.truePeak?.conclude())!)),
      samplePeakDbfs,
      rmsDbfs,
      noiseFloorDbfs: floorPower === null ? null : levelOrNull(powerToDb(floorPower)),
      crestDb: samplePeakDbfs === null || rmsDbfs === null ? null : samplePeakDbfs - rmsDbfs,
      dcOffset: activity.offsets.reduce((worst, one) => (Math.abs(one) > Math.abs(worst) ? one : worst), 0),
      clippedRuns: this.clipping.conclude(),
      ...pauses(activity, durationSeconds),
      digitalSilenceSeconds,
      channelCorrelation: levels.correlation,
      channelBalanceDb: levels.balance === null ? null : levelOrNull(powerToDb(levels.balance)),
      roomTone: activity.roomTone,
    };
    const { channelMeanSquares } = levels;
    const { sampleRateHz } = this.format;
    const { clipping } = this;
    const clippedRuns = figures.clippedRuns;
    const complaints = judgeComplaints({
      figures,
      activity,
      heard: this.complaints.conclude(),
      channelMeanSquares,
      clippedSamples: clippedRuns ? clipping.samples() : 0,
      clippedSeconds: clippedRuns ? clipping.places().map((frame) => frame / sampleRateHz) : [],
    });
    const evidence = { figures, complaints, activity, channelMeanSquares, badSamples: this.badSamples };
    const survey = this.pyramid && {
      ...this.format,
      frames: levels.frames,
      levels: this.pyramid.conclude(),
      ...this.loudness.series,
      spectrum: this.spectrum!.conclude(),
      peakMarks: this.peakMarks!.conclude(this.clipping.places()),
      speech: activity.speech,
    };
    return {
      figures: { ...figures, warnings: judgeWarnings(evidence), complaints },
      overview: this.overview.conclude(),
      survey,
    };
  }
}

function pauses({ speech }: ActivityFigures, durationSeconds: number) {
  if (!speech.length) return { headSilenceSeconds: null, tailSilenceSeconds: null, longestPauseSeconds: null };
  let longest = 0;
  for (let i = 1; i < speech.length; i++)
    longest = Math.max(longest, speech[i].startSeconds - speech[i - 1].endSeconds);
  return {
    headSilenceSeconds: speech[0].startSeconds,
    tailSilenceSeconds: Math.max(0, durationSeconds - speech.at(-1)!.endSeconds),
    longestPauseSeconds: longest,
  };
}

export interface MeasureOptions {
  signal?: CancelSignal;
  progress?: (frames: number) => void;
  /** Also gather what pictures are drawn from. */
  survey?: boolean;
  /** Hears every block too, before the next is read. */
  alongside?: (block: Block) => void | Promise<void>;
}

/** Measures a whole source. */
export async function measureSource(
  source: Source,
  options: MeasureOptions = {},
): Promise<{ figures: SoundFigures; overview: [number, number][]; survey: Survey | undefined }> {
  const meter = new Meter(source.format, { survey: options.survey });
  for await (const block of source.blocks({ signal: options.signal })) {
    meter.hear(block);
    await options.alongside?.(block);
    options.progress?.(block[0].length);
  }
  return meter.conclude();
}

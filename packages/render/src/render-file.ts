import { rm } from 'node:fs/promises';
import {
  type Agree,
  applyPlan,
  asksForEnds,
  boxSteps,
  type CancelSignal,
  type ConfiguredStep,
  chainMap,
  composeMaps,
  correctedPlan,
  countedSource,
  deliveredFormat,
  endsText,
  type Findings,
  type FinishPlan,
  firstPlan,
  fitEnds,
  judge,
  type LaidOut,
  type LimitResult,
  layOut,
  type Measurement,
  type OutputFormat,
  reasonsOff,
  runChain,
  type SignalFormat,
  type Source,
  type StepReport,
  settledPlan,
  type TargetFile,
  type TimeMap,
  toResult,
  toSource,
  type Verdict,
} from '@tonos/core';
import { type AudioWriter, ByteWriter, type DeliveryNotes, noteLoudness, openAudio, writerOf } from '@tonos/formats';
import { cutRecording, type InSet, type MarkedByHand } from './cut-recording.ts';
import { type DiskSpool, type OpenSpool, withSpools } from './disk-spool.ts';
import { measureFile } from './measure-file.ts';
import { surveyAudio } from './survey/survey-audio.ts';

/** Without a target: WAV 24-bit at the source's rate and layout. */
const PLAIN_OUTPUT: OutputFormat = { container: 'wav', sampleRateHz: null, channels: null, bitDepth: 24 };
const MOST_ROUNDS = 4;

export interface RenderJob {
  sourcePath: string;
  /** How messages call the source. */
  name: string;
  chain: readonly ConfiguredStep[];
  target: TargetFile | undefined;
  /** A path that does not exist yet. Removed again where the render fails. */
  outputPath: string;
  /** What its steps need not study again, by their ids. */
  given?: Readonly<Record<string, Findings>>;
  /** Folder for what lies between passes. */
  spoolFolder: string;
  /** What people marked in the recording: its cuts are made and its boxes applied first, its room tone is known to the steps. */
  byHand?: MarkedByHand;
  /** Where it is one of a set. */
  inSet?: InSet & { agree: Agree };
  /** Where the delivery's own survey goes, and a copy of it that can be read at random where it can't itself. */
  pictures?: { surveyPath: string; copyPath: string };
  /** What the delivery says of itself. */
  notes?: DeliveryNotes;
  signal?: CancelSignal;
  /** Share of the work that is done, 0 to 1, and what goes on. */
  progress?: (share: number, stage: string) => void;
}

export interface RenderResult {
  after: Measurement;
  overview: [number, number][];
  findings: StepReport[];
  verdict: Verdict | null;
  limits: LimitResult[];
  /** Where the moments of the source lie in the delivery. */
  timeMap: TimeMap;
  /** How often the delivery was encoded until it landed. */
  rounds: number;
  /** Whether a copy was written. */
  copied: boolean;
}

/** Runs a chain over a file, lands it on the target, writes it, and judges what a decoder makes of the written file. */
export async function renderFile(job: RenderJob): Promise<RenderResult> {
  const source = await openAudio(job.sourcePath, job.name);
  try {
    return await renderSource(source, job);
  } finally {
    await source.close();
  }
}

/** What is rendered: its length is told where it is known beforehand. */
type Rendered = Source & { readonly frames: number | undefined };

/** The same for any sound. */
export async function renderSource(source: Rendered, job: Omit<RenderJob, 'sourcePath'>): Promise<RenderResult> {
  const output = job.target?.output ?? PLAIN_OUTPUT;
  try {
    return await withSpools(job.spoolFolder, (openSpool) => new Rendering(job, output, source, openSpool).run());
  } catch (error) {
    await rm(job.outputPath, { force: true });
    throw error;
  }
}

class Rendering {
  private notes: DeliveryNotes | undefined;

  constructor(
    private readonly job: Omit<RenderJob, 'sourcePath'>,
    private readonly output: OutputFormat,
    private readonly source: Rendered,
    private readonly openSpool: OpenSpool,
  ) {
    this.notes = job.notes;
  }

  async run(): Promise<RenderResult> {
    const { chain, target, given, signal } = this.job;
    const chainStage = this.stage(0, target ? 0.5 : 0.85, 'chain');
    const { name, byHand, inSet } = this.job;
    const { source, map: cutMap, boxes, known } = await cutRecording(this.source, byHand, { name, signal, inSet });
    const applied = [...boxSteps(boxes), ...chain];
    const counted = countedSource(source);
    const surroundings = {
      openSpool: this.openSpool,
      known,
      signal,
      agree: inSet?.agree,
      progress: (frames: number, _: number, passes: number) => chainStage(frames / passes),
    };
    const throughChain = (reports: readonly StepReport[]) => {
      const map = chainMap(reports, counted.seconds());
      return cutMap ? composeMaps(cutMap, map) : map;
    };
    if (!target) {
      const findings = await this.encode((openSink) =>
        runChain(applied, counted.source, openSink, surroundings, given),
      );
      const timeMap = throughChain(findings);
      return this.noted({ ...(await this.judgeOutput()), findings, timeMap, rounds: 1 });
    }
    let chained: DiskSpool | undefined;
    const openChained = async (format: SignalFormat) => {
      chained = await this.openSpool(format);
      return chained;
    };
    const findings = await runChain(applied, counted.source, openChained, surroundings, given);
    const heard = chained!;
    const ends = asksForEnds(target)
      ? await fitEnds(heard, target, { signal, agree: inSet?.agree })
      : { source: heard, note: undefined };
    const chainTimes = throughChain(findings);
    const timeMap = ends.map ? composeMaps(chainTimes, ends.map) : chainTimes;
    this.moveNotes(timeMap);
    const laidOut = await this.openSpool(deliveredFormat(target, heard.format));
    const heardOut = await layOut(ends.source, laidOut, target, {
      signal,
      progress: this.stage(0.5, 0.65, 'rate and layout'),
    });
    await heard.discard();
    const { gainDb, ...landed } = await this.land(laidOut, target, heardOut);
    const notes = [...(ends.note ? [endsText(ends.note)] : []), ...reasonsOff(landed.limits, gainDb)];
    const finish = {
      id: 'finish',
      kind: 'finish',
      findings: { gainDb, headSeconds: ends.note?.headSeconds ?? 0, note: notes.join('; ') },
      deepest: {},
    };
    return this.noted({ ...landed, timeMap, findings: [...findings, finish] });
  }

  /** Chapters keep their words wherever these went, and the file says when its own first sample was. */
  private moveNotes(map: TimeMap): void {
    const { chapters, timeReferenceSeconds } = this.notes ?? {};
    if (!this.notes) return;
    this.notes = {
      ...this.notes,
      ...(chapters && {
        chapters: chapters.map((chapter) => ({
          ...chapter,
          startSeconds: Math.max(0, toResult(map, chapter.startSeconds)),
        })),
      }),
      ...(timeReferenceSeconds !== undefined && {
        timeReferenceSeconds: Math.max(0, timeReferenceSeconds + beginOf(map)),
      }),
    };
  }

  /** A WAV carries its own loudness. */
  private async noted(result: RenderResult): Promise<RenderResult> {
    if (this.output.container === 'wav' && this.notes) await noteLoudness(this.job.outputPath, result.after);
    return result;
  }

  /** Encode, decode, measure, correct: until every correction is too small to matter. */
  private async land(laidOut: DiskSpool, target: TargetFile, heard: LaidOut) {
    const { signal } = this.job;
    const settled = (plan: FinishPlan) => settledPlan(plan, laidOut, target, { laidOut: heard, signal });
    let plan = await settled(firstPlan(target, heard.heardDb));
    for (let rounds = 1; ; rounds++) {
      const progress = this.stage(0.65, 0.85, 'finish');
      await this.encode(async (openSink) =>
        applyPlan(plan, laidOut, await openSink(laidOut.format), { signal, progress }),
      );
      const result = await this.judgeOutput();
      const next = correctedPlan(target, plan, result.after);
      if (!next || rounds === MOST_ROUNDS) return { ...result, rounds, gainDb: plan.gainDb };
      // a lower ceiling takes some of the level with it
      plan = next.ceilingDbtp === plan.ceilingDbtp ? next : await settled(next);
      await this.discardOutput();
    }
  }

  /** Writes the output file. @param fill opens it with the format of what comes, once, and writes */
  private async encode<Made>(fill: (openSink: (format: SignalFormat) => Promise<AudioWriter>) => Promise<Made>) {
    const bytes = await ByteWriter.create(this.job.outputPath);
    try {
      let writer: AudioWriter | undefined;
      const made = await fill(async (format) => {
        writer = await writerOf(this.output).open(bytes, {
          format,
          bitDepth: this.output.bitDepth,
          bitrateKbps: this.output.bitrateKbps,
          notes: this.notes,
        });
        return writer;
      });
      await writer!.finish();
      await bytes.close();
      return made;
    } catch (error) {
      await bytes.abandon();
      throw error;
    }
  }

  private async judgeOutput() {
    const { name, signal, target, outputPath, pictures } = this.job;
    this.job.progress?.(0.9, 'measuring the delivery');
    const { measurement, overview, copied } = pictures
      ? await surveyAudio({ path: outputPath, name, signal, ...pictures })
      : { ...(await measureFile(outputPath, { name, signal })), copied: false };
    const judged = target ? judge(target.limits, measurement) : undefined;
    return { after: measurement, overview, copied, verdict: judged?.verdict ?? null, limits: judged?.limits ?? [] };
  }

  private async discardOutput() {
    const { outputPath, pictures } = this.job;
    for (const path of [outputPath, pictures?.surveyPath, pictures?.copyPath])
      if (path) await rm(path, { force: true });
  }

  /** Progress within one stage by frames of the source. */
  private stage(from: number, to: number, name: string) {
    let heard = 0;
    const total = this.source.frames ?? Number.POSITIVE_INFINITY;
    return (frames: number) => {
      heard += frames;
      this.job.progress?.(from + (to - from) * Math.min(1, heard / total), name);
    };
  }
}

/** When the delivery begins in the source's time: after what was cut, and before what was put in. */
function beginOf(map: TimeMap): number {
  const first = toSource(map, 0);
  return first - toResult(map, first);
}

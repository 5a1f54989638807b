import type { ForecastLine, NewRun } from '@tonos/contract';
import {
  adjustChain,
  type ChainStep,
  forecast,
  type LedgerFigures,
  ledgerFigures,
  type Measurement,
  reasonsOff,
  secondsAfter,
  stepOfKind,
  type TargetFile,
} from '@tonos/core';
import { stepsBehind } from '../outside/basis.ts';
import { byHandOf, markedOf } from '../recordings/by-hand.ts';
import { openNotesOf } from '../recordings/open-notes.ts';
import type { RecordingEntity } from '../recordings/recording-entity.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { freeBytes } from '../storage/free-bytes.ts';
import type { JobEnd } from '../workers/messages.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { diskNeed } from './disk-need.ts';
import { deliveredNames } from './output-names.ts';
import type { RunService } from './run-service.ts';

/** Long enough for speech and pauses, short enough that hundreds are foretold in minutes. */
const EXCERPT_SECONDS = 30;

interface Needs {
  runs: RunService;
  recordings: RecordingService;
  store: BlobStore;
  queue: OneAtATime;
  threads: number;
}

/** Who will be within a target and who will not, before anything is started: by the chain's account of an excerpt of each. */
export class ForecastService {
  constructor(private readonly needs: Needs) {}

  async foretell(question: NewRun, wanted: AbortSignal, tell: (line: ForecastLine) => void): Promise<void> {
    const { runs, threads, store } = this.needs;
    const ingredients = await runs.ingredients(question);
    const { recordings, chain, target } = ingredients;
    const measured = recordings.flatMap(({ measurement }) => (measurement ? [measurement] : []));
    const soundSeconds = measured.reduce((sum, { durationSeconds }) => sum + durationSeconds, 0);
    tell({
      type: 'needs',
      diskBytes: diskNeed(target, chain.steps, measured, threads),
      freeBytes: await freeBytes(store.folder),
      soundSeconds,
      collisions: deliveredNames(ingredients).collisions,
    });
    let [excerptSeconds, tookSeconds] = [0, 0];
    for (const recording of recordings) {
      if (wanted.aborted) return;
      const started = performance.now();
      const adjustments = recording.adjustments[question.chainId] ?? [];
      const { steps, misfits } = adjustChain(chain.steps, adjustments);
      const line = await this.line(recording, steps, target, wanted);
      if (line.within !== null) {
        tookSeconds += (performance.now() - started) / 1000;
        excerptSeconds += Math.min(EXCERPT_SECONDS, recording.measurement!.durationSeconds);
      }
      const fromOutside = stepsBehind(steps, recording.frozen[question.chainId])
        ? ['Sound from outside stands for its first steps: it is foretold without that.']
        : [];
      tell({ ...line, notes: [...line.notes, ...fromOutside, ...misfits.map(({ message }) => message)] });
    }
    const seconds = excerptSeconds ? (soundSeconds * (tookSeconds / excerptSeconds)) / threads : null;
    tell({ type: 'done', seconds });
  }

  private async line(recording: RecordingEntity, steps: readonly ChainStep[], target: TargetFile, wanted: AbortSignal) {
    const nothing = {
      type: 'recording' as const,
      recordingId: recording.id,
      name: recording.name,
      within: null,
      gainDb: 0,
      limitedDb: 0,
      limits: [],
    };
    const { measurement } = recording;
    if (recording.status === 'unreadable')
      return { ...nothing, notes: [recording.error?.message ?? 'It can\u2019t be read.'] };
    if (!measurement) return { ...nothing, notes: ['It is still being measured.'] };
    if (measurement.rmsDbfs === null) return { ...nothing, within: false, notes: ['It is digital silence.'] };
    const end = await this.account(recording, measurement, steps, wanted);
    if (end.type === 'cancelled') return { ...nothing, notes: [] };
    if (end.type !== 'accounted') return { ...nothing, notes: [end.type === 'failed' ? end.error.message : ''] };
    const { source, rows } = end.ledger;
    const after = expected(measurement, source, rows.at(-1)?.figures ?? source);
    const repaired = steps.some(({ kind, on }) => on && stepOfKind(kind)?.traits?.mendsClipping);
    const told = forecast(target, {
      ...after,
      // of a chain that changes the length an excerpt does not tell by how much
      ...(steps.some(changesLength)
        ? {}
        : { durationSeconds: secondsAfter(recording.cuts, measurement.durationSeconds) }),
      ...(repaired ? {} : { clippedRuns: measurement.clippedRuns }),
    });
    const usesRoomTone = steps.some(
      ({ kind, on, settings }) => on && stepOfKind(kind)?.traits?.usesRoomTone?.(settings),
    );
    const noRoomTone = usesRoomTone && measurement.roomTone.length === 0 && recording.roomToneChoice.use.length === 0;
    return {
      ...nothing,
      within: told.within,
      gainDb: told.gainDb,
      limitedDb: told.limitedDb,
      limits: told.limits,
      notes: [
        ...notesText(openNotesOf(recording).length),
        ...reasonsOff(told.limits, told.gainDb),
        ...(noRoomTone ? ['It has no usable room tone: noise reduction will follow the noise instead.'] : []),
      ],
    };
  }

  private async account(
    { id, name, ...recording }: RecordingEntity,
    { durationSeconds, sampleRateHz }: Measurement,
    steps: readonly ChainStep[],
    wanted: AbortSignal,
  ): Promise<JobEnd> {
    const { recordings, store, queue } = this.needs;
    const spoolFolder = await store.spoolFolder();
    const fromSeconds = Math.max(0, (durationSeconds - EXCERPT_SECONDS) / 2);
    const toSeconds = Math.min(durationSeconds, fromSeconds + EXCERPT_SECONDS);
    try {
      const { path } = await recordings.sight(id);
      return await queue.run(
        {
          type: 'ledger',
          path,
          name,
          steps,
          // the stretch is one of the recording as it is: cuts hardly change how it sounds
          byHand: byHandOf({ ...markedOf(recording), cuts: [] }, {}, store),
          excerpt: { fromSeconds, toSeconds },
          frames: (toSeconds - fromSeconds) * sampleRateHz,
          spoolFolder,
        },
        { wanted, stops: true },
      );
    } finally {
      await store.discard(spoolFolder);
    }
  }
}

const changesLength = ({ kind, on }: ChainStep): boolean => on && stepOfKind(kind)?.traits?.longest !== undefined;

/** What the whole recording will measure: its own figures, moved as the excerpt's were. */
const expected = (whole: Measurement, before: LedgerFigures, after: LedgerFigures): LedgerFigures =>
  ledgerFigures((measure) => {
    const [from, to, own] = [before[measure], after[measure], whole[measure]];
    if (own === null) return to;
    return from === null || to === null ? own : own + to - from;
  });

const notesText = (open: number): string[] => (open ? [`${open} open ${open === 1 ? 'note' : 'notes'} on it.`] : []);

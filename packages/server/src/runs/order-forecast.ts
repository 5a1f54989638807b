import type { ForecastLine, NewOrderRun } from '@tonos/contract';
import {
  excerptOrder,
  forecast,
  InvalidOrderError,
  type OrderFault,
  type OrderFile,
  partName,
  reasonsOff,
  sentenceOf,
  type TargetFile,
} from '@tonos/core';
import type { EntityManager } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { freeBytes } from '../storage/free-bytes.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { bodyOf, keptOrder, knownRecordings, orderWithChains, recordingIdOf } from './order-ingredients.ts';
import { foretoldSeconds, namedAs, partFiles, programmesNeed, uncutInput } from './order-parts.ts';
import { deliveredNames } from './output-names.ts';
import { foretoldSound, type PartSound, recordingsIn } from './part-sounds.ts';

interface Needs {
  database: Database;
  store: BlobStore;
  queue: OneAtATime;
  threads: number;
}

/** Of a body as much as of a recording; of what stands round it enough to hear how loud it is. */
const BODY_SECONDS = 30;
const PART_SECONDS = 10;

interface Episode {
  fill: Record<string, string>;
  /** By part; those that are not there are left out. */
  recordings: Map<string, PartSound>;
  lacks: string[];
  lengthSeconds: number | null;
}

type Line = Extract<ForecastLine, { type: 'recording' }>;

/** What a run of a running order will come to, before it is started: what each programme lacks, how long it will be, who will be within. */
export class OrderForecast {
  constructor(private readonly needs: Needs) {}

  async foretell(question: NewOrderRun, wanted: AbortSignal, tell: (line: ForecastLine) => void): Promise<void> {
    const { database, store, threads } = this.needs;
    const { order, episodes, target, ...kept } = await database.transaction((manager) => gather(manager, question));
    const whole = episodes.filter(({ lacks }) => !lacks.length);
    const named = whole.map(({ fill, recordings }) =>
      namedAs({ fill, body: recordings.get(bodyOf(order).id)! }, order),
    );
    const soundSeconds = whole.reduce((sum, { lengthSeconds }) => sum + (lengthSeconds ?? 0), 0);
    tell({
      type: 'needs',
      diskBytes: programmesNeed(target, order, whole, threads),
      freeBytes: await freeBytes(store.folder),
      soundSeconds,
      collisions: deliveredNames({ ...kept, target, recordings: named }).collisions,
    });
    let [heardSeconds, tookSeconds] = [0, 0];
    for (const episode of episodes) {
      if (wanted.aborted) return;
      const started = performance.now();
      const { line, seconds } = await this.lineOf(order, episode, target, wanted);
      if (seconds) {
        heardSeconds += seconds;
        tookSeconds += (performance.now() - started) / 1000;
      }
      tell(line);
    }
    tell({ type: 'done', seconds: heardSeconds ? (soundSeconds * (tookSeconds / heardSeconds)) / threads : null });
  }

  /** @returns also how much of it was heard */
  private async lineOf(
    order: OrderFile,
    { fill, recordings, lacks, lengthSeconds }: Episode,
    target: TargetFile,
    wanted: AbortSignal,
  ): Promise<{ line: Line; seconds: number }> {
    const body = recordings.get(bodyOf(order).id);
    const nothing: Line = {
      type: 'recording',
      recordingId: body?.id ?? '',
      name: body ? namedAs({ fill, body }, order).name : order.name,
      within: null,
      gainDb: 0,
      limitedDb: 0,
      limits: [],
      notes: lacks,
      lengthSeconds,
      lacks,
    };
    if (lacks.length) return { line: nothing, seconds: 0 };
    const end = await this.excerptOf(order, recordings, target, wanted);
    if (end.type !== 'programme-accounted') {
      const notes = end.type === 'failed' ? [`It can\u2019t be foretold: ${end.error.message}`] : [];
      return { line: { ...nothing, notes }, seconds: 0 };
    }
    const { whole, lengthSeconds: seconds } = end.ledger;
    if (whole.after.rmsDbfs === null)
      return { line: { ...nothing, within: false, notes: ['It is digital silence.'] }, seconds };
    const told = forecast(target, {
      ...whole.after,
      ...(lengthSeconds !== null && { durationSeconds: lengthSeconds }),
    });
    const { within, gainDb, limitedDb, limits } = told;
    return { line: { ...nothing, within, gainDb, limitedDb, limits, notes: reasonsOff(limits, gainDb) }, seconds };
  }

  private async excerptOf(
    order: OrderFile,
    recordings: ReadonlyMap<string, PartSound>,
    target: TargetFile,
    wanted: AbortSignal,
  ) {
    const { store, queue } = this.needs;
    const body = bodyOf(order).id;
    const lengths = new Map(
      [...recordings].map(([part, sound]) => [
        part,
        { id: sound.id, durationSeconds: foretoldSound(sound)!.durationSeconds },
      ]),
    );
    const short = excerptOrder(order, lengths, ({ id }) => (id === body ? BODY_SECONDS : PART_SECONDS));
    const parts = Object.fromEntries([...recordings].map(([part, one]) => [part, uncutInput(one)]));
    const spoolFolder = await store.spoolFolder();
    try {
      return await queue.run(
        { type: 'order-ledger', name: order.name, order: short, files: partFiles(parts, store), target, spoolFolder },
        { wanted, stops: true },
      );
    } finally {
      await store.discard(spoolFolder);
    }
  }
}

async function gather(manager: EntityManager, question: NewOrderRun) {
  const { file, ...kept } = await keptOrder(manager, question);
  const order = await orderWithChains(manager, file);
  const known = await knownRecordings(manager, order, question.fills);
  return { order, ...kept, episodes: question.fills.map((fill) => episodeOf(order, fill, known)) };
}

function episodeOf(order: OrderFile, fill: Record<string, string>, known: ReadonlyMap<string, PartSound>): Episode {
  const recordings = new Map<string, PartSound>();
  const lacks = new Set<string>();
  for (const part of order.parts) {
    const id = recordingIdOf(part, fill);
    const recording = id === undefined ? undefined : known.get(id);
    if (recording) recordings.set(part.id, recording);
    if (id === undefined && 'place' in part.source) lacks.add(`Nothing fills \u201c${part.source.place}\u201d.`);
    else if (!recording) lacks.add(`The recording of \u201c${partName(part)}\u201d is not there.`);
    else
      for (const { name, status, measurement } of recordingsIn(recording)) {
        if (status === 'unreadable') lacks.add(`${name} can\u2019t be read.`);
        else if (!measurement) lacks.add(`${name} is still being measured.`);
      }
  }
  if (lacks.size) return { fill, recordings, lacks: [...lacks], lengthSeconds: null };
  try {
    return { fill, recordings, lacks: [], lengthSeconds: foretoldSeconds(order, recordings) };
  } catch (error) {
    if (!(error instanceof InvalidOrderError)) throw error;
    const faults = (error.details.faults ?? []) as OrderFault[];
    return { fill, recordings, lacks: faults.map(sentenceOf), lengthSeconds: null };
  }
}

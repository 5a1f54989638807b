import { createWriteStream, existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { NewOuting, Outing, Outings } from '@tonos/contract';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller } from '../http/caller.ts';
import { HttpProblem } from '../http/problems.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import type { ExchangeFolder } from './exchange-folder.ts';
import { OutingEntity } from './outing-entity.ts';
import { OutingRows } from './outing-rows.ts';
import { WayBack } from './way-back.ts';
import { WayOut } from './way-out.ts';

export interface OutsideNeeds {
  database: Database;
  store: BlobStore;
  bus: EventBus;
  recordings: RecordingService;
  folder: ExchangeFolder;
  queue: OneAtATime;
  surroundings: Surroundings;
  /** The largest file that may be handed in. */
  largestBytes: number;
  /** There is something to measure. */
  nudge(): void;
  report(error: unknown): void;
}

/** Sound that goes out to other programs as files, and what comes back of it, which is laid in at its very place. */
export class OutsideService {
  private timer: NodeJS.Timeout | undefined;
  private readonly stopped = new AbortController();
  private readonly rows: OutingRows;
  private readonly out: WayOut;
  private readonly back: WayBack;

  constructor(private readonly needs: OutsideNeeds) {
    this.rows = new OutingRows(needs.database, needs.bus);
    this.out = new WayOut(needs, this.rows, this.stopped.signal);
    this.back = new WayBack(needs, this.rows, this.stopped.signal);
  }

  /** Goes on with what an earlier start left in the making, and looks for what comes back. */
  async watch(everyMs: number): Promise<void> {
    await this.needs.folder.isThere();
    await this.out.resume();
    this.timer = setInterval(() => void this.back.look(), everyMs);
    this.timer.unref();
  }

  async stop(): Promise<void> {
    clearInterval(this.timer);
    this.stopped.abort();
    await this.back.settled();
    await this.out.settled();
  }

  async list(): Promise<Outings> {
    const { database, folder } = this.needs;
    const all = await this.rows.entities.find({ order: { createdAt: 'DESC', fileName: 'ASC' } });
    const seen = all.filter(({ titleId }) => caller().sees(titleId));
    const outings = await database.transaction((manager) => this.rows.describe(manager, seen));
    const { told, trouble } = folder;
    return { outings, folder: { ...told, trouble }, strangers: [...this.back.strangers] };
  }

  send(what: NewOuting): Promise<Outing[]> {
    return this.out.send(what);
  }

  takeOut(id: string): Promise<Outing> {
    return this.back.takeOut(id);
  }

  /** The file that went out. @throws HttpProblem 404, 409 while it is being written */
  async file(id: string): Promise<{ path: string; mediaType: string; name: string }> {
    const { fileName, state } = await this.rows.find(id);
    const isThere = existsSync(join(this.needs.folder.out, fileName));
    if (state === 'making' || state === 'failed' || !isThere)
      throw new HttpProblem(
        409,
        'not-out',
        `${fileName} is not written yet, or is gone from the exchange folder. Wait, or send it out again.`,
      );
    return { path: join(this.needs.folder.out, fileName), mediaType: 'audio/wav', name: fileName };
  }

  /** Takes what somebody hands in as the file that came back; it is laid in as one that was written into the folder. */
  async handIn(id: string, bytes: Readable): Promise<Outing> {
    const { fileName } = await this.rows.find(id);
    const { folder } = this.needs;
    if (!(await folder.isThere())) throw new HttpProblem(409, 'no-exchange', folder.trouble!);
    const limited = noMoreThan(this.needs.largestBytes, fileName);
    await folder.handIn(fileName, (path) => pipeline(bytes, limited, createWriteStream(path)));
    const [told] = await this.rows.told([id]);
    return told;
  }

  /** It is not waited for any more. What was laid in stays. */
  async forget(id: string): Promise<undefined> {
    const { database, folder, bus } = this.needs;
    const { fileName, titleId } = await this.rows.find(id);
    await database.transaction((manager) => manager.delete(OutingEntity, { id }));
    await folder.clear(fileName);
    bus.publish({ type: 'outing', titleId });
  }
}

/** Lets so many bytes through. */
const noMoreThan = (bytes: number, name: string) =>
  async function* (chunks: AsyncIterable<Buffer>) {
    let came = 0;
    for await (const chunk of chunks) {
      came += chunk.length;
      if (came > bytes) throw new HttpProblem(413, 'too-large', `${name} is larger than this server takes.`);
      yield chunk;
    }
  };

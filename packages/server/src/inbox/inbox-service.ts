import { join } from 'node:path';
import { TonosError } from '@tonos/core';
import { In, IsNull, Not } from 'typeorm';
import type { Database } from '../database/database.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import type { ServerFolders } from '../recordings/server-folders.ts';
import type { RunService } from '../runs/run-service.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { ArrivalEntity } from './arrival-entity.ts';
import { SessionLinks, type SessionLinksNeeds } from './session-links.ts';

/** Endings of what is read as sound; other files of a watched folder are left alone. */
const SOUND = /\.(wav|wave|rf64|bw64|aif|aiff|aifc|flac|mp3|opus|ogg|oga)$/i;

/** What stands against a run, such as a full disk, may go by itself. */
const TRY_AGAIN_MS = 120_000;
const now = () => performance.now();

interface InboxNeeds extends SessionLinksNeeds {
  database: Database;
  recordings: RecordingService;
  folders: ServerFolders;
  runs: RunService;
  nudge(): void;
  report(error: unknown): void;
}

/** A file of a watched folder, as it is now. */
interface Found {
  name: string;
  file: string;
  stamp: string;
}

/**
 * Looks into the titles' watched folders now and then. A file that has not changed between two looks is complete: it is brought in
 * once, and run with the title's chain and target where that is wished. Where each folder in it is a session, one that has not changed comes in
 * whole, and is run once its recordings are linked.
 */
export class InboxService {
  private readonly seen = new Map<string, string>();
  /** Runs that could not be started, by title: what was asked, and why not. */
  private readonly refused = new Map<string, { asked: string; message: string; againAtMs: number }>();
  private readonly links: SessionLinks;
  private timer: NodeJS.Timeout | undefined;
  private looking: Promise<void> = Promise.resolve();

  constructor(private readonly needs: InboxNeeds) {
    this.links = new SessionLinks(needs);
  }

  watch(everyMs: number): void {
    this.timer = setInterval(() => void this.look(), everyMs);
    this.timer.unref();
  }

  async stop(): Promise<void> {
    clearInterval(this.timer);
    await this.looking;
    await this.links.stop();
  }

  /** Why what has come into a title is not run; undefined where nothing stands against it. */
  whyNotRun(titleId: string): string | undefined {
    return this.refused.get(titleId)?.message;
  }

  /** One look into every watched folder; never two at once. */
  look(): Promise<void> {
    this.looking = this.looking.then(() => this.lookOnce()).catch(this.needs.report);
    return this.looking;
  }

  private async lookOnce(): Promise<void> {
    const watching = { inbox: Not(IsNull()), trashedAt: IsNull() };
    for (const title of await this.needs.database.of(TitleEntity).findBy(watching)) {
      // a folder that is gone for a while is no fault of the others
      await this.bringIn(title).catch(this.needs.report);
      await this.links.look(title.id).catch(this.needs.report);
      await this.runWhatCame(title).catch(this.needs.report);
    }
  }

  private async bringIn({ id: titleId, inbox }: TitleEntity): Promise<void> {
    const { root, path, sets } = inbox!;
    const { fresh: single, folders } = await this.complete(titleId, root, path);
    for (const found of single) await this.take(titleId, root, path, [found]);
    for (const session of sets ? folders : []) {
      const inside = join(path, session);
      const { fresh, whole, known } = await this.complete(titleId, root, inside);
      if (!whole || !fresh.length) continue;
      // what comes later than the others of its session is one by itself
      if (fresh.length > 1 && !known) await this.take(titleId, root, inside, fresh, session);
      else for (const found of fresh) await this.take(titleId, root, inside, [found]);
    }
  }

  /** What in a folder has not changed since the last look and is not in yet, whether that is all of it, whether any of it is known; and its folders. */
  private async complete(
    titleId: string,
    root: number,
    path: string,
  ): Promise<{ fresh: Found[]; whole: boolean; known: boolean; folders: string[] }> {
    const { database } = this.needs;
    const fresh: Found[] = [];
    let [whole, known] = [true, false];
    const { files, folders } = await this.needs.folders.list({ root, path });
    for (const { name, sizeBytes, changedMs } of files.filter((one) => SOUND.test(one.name))) {
      const file = `${root}/${path}/${name}`;
      const stamp = `${sizeBytes} ${Math.round(changedMs)}`;
      const key = `${titleId} ${file}`;
      const isStable = this.seen.get(key) === stamp && sizeBytes > 0;
      this.seen.set(key, stamp);
      if (!isStable) whole = false;
      else if (await database.of(ArrivalEntity).existsBy({ titleId, file, stamp })) known = true;
      else fresh.push({ name, file, stamp });
    }
    return { fresh, whole, known, folders };
  }

  /** @param session the folder, where they are to be linked: it goes into their names, since those inside are often alike */
  private async take(
    titleId: string,
    root: number,
    path: string,
    found: readonly Found[],
    session: string | null = null,
  ) {
    const { folders, recordings, nudge } = this.needs;
    const received = await folders.receive({ root, path, files: found.map(({ name }) => name) });
    const named = received.map((one) => (session === null ? one : { ...one, name: `${session} ${one.name}` }));
    // P14: a file that came in is known as one that did, whatever happens next
    await recordings.add(titleId, named, undefined, (manager, added) =>
      manager.insert(
        ArrivalEntity,
        added.map(({ id: recordingId }, i) => {
          const { file, stamp } = found[i];
          return { titleId, file, stamp, recordingId, isRun: false, session, apart: null };
        }),
      ),
    );
    nudge();
  }

  /** What has been measured, and linked where it is to be, is run together; without a chain and a target of the title it waits. */
  private async runWhatCame({ id: titleId, inbox, chainId, targetId }: TitleEntity): Promise<void> {
    if (!inbox!.run || !chainId || !targetId) return;
    const { database, runs, nudge } = this.needs;
    const waiting = await database.of(ArrivalEntity).findBy({ titleId, isRun: false, session: IsNull() });
    if (!waiting.length) return;
    const ready = await database.of(RecordingEntity).findBy({
      id: In(waiting.map(({ recordingId }) => recordingId)),
      status: Not('measuring'),
    });
    const recordingIds = ready.filter(({ trashedAt }) => trashedAt === null).map(({ id }) => id);
    if (!recordingIds.length) return;
    const asked = JSON.stringify({ recordingIds, chainId, targetId });
    const before = this.refused.get(titleId);
    if (before?.asked === asked && now() < before.againAtMs) return;
    try {
      await runs.start({ titleId, recordingIds, chainId, targetId }, (manager) =>
        manager.update(ArrivalEntity, { titleId, recordingId: In(recordingIds) }, { isRun: true }),
      );
      this.refused.delete(titleId);
    } catch (error) {
      if (!(error instanceof TonosError)) throw error;
      this.refused.set(titleId, { asked, message: error.message, againAtMs: now() + TRY_AGAIN_MS });
      return;
    }
    nudge();
  }
}

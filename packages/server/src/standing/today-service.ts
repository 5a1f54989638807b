import { LITTLE_BYTES, type Today } from '@tonos/contract';
import { missedText } from '@tonos/core';
import { In, IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import { caller } from '../http/caller.ts';
import { ArrivalEntity } from '../inbox/arrival-entity.ts';
import { withOpenNotes } from '../recordings/open-notes.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { OPEN } from '../runs/open-items.ts';
import { RunItemEntity } from '../runs/run-entity.ts';
import type { RunService } from '../runs/run-service.ts';
import { freeBytes } from '../storage/free-bytes.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { secondsLeft } from '../workers/seconds-left.ts';
import type { StandingService } from './standing-service.ts';

interface TodayNeeds {
  database: Database;
  runs: RunService;
  standing: StandingService;
  folder: string;
  /** What the trash would give. */
  trashBytes(): Promise<number>;
  /** Why what came into a title is not run. */
  whyNotRun(titleId: string): string | undefined;
  surroundings: Surroundings;
}

/** What waits for somebody, over all titles. */
export class TodayService {
  constructor(private readonly needs: TodayNeeds) {}

  async look(): Promise<Today> {
    const { database, folder, trashBytes, surroundings } = this.needs;
    const all = await database
      .of(TitleEntity)
      .find({ where: { trashedAt: IsNull() }, order: { createdAt: 'ASC', name: 'ASC' } });
    const titles = all.filter(({ id }) => caller().sees(id));
    const free = await freeBytes(folder);
    return {
      checkedAt: surroundings.now(),
      runs: await this.runs(),
      items: await this.items(titles),
      unreadable: await this.unreadable(titles),
      arrivals: await this.arrivals(titles),
      notes: await this.notes(titles),
      disk: { freeBytes: free, isLow: free < LITTLE_BYTES, trashBytes: await trashBytes() },
    };
  }

  private async runs(): Promise<Today['runs']> {
    const { database, runs, surroundings } = this.needs;
    const open = await runs.list({ open: true });
    if (!open.length) return [];
    const query = database
      .of(RunItemEntity)
      .createQueryBuilder('item')
      .select('item.runId', 'runId')
      .addSelect(`TOTAL(coalesce(json_extract(item.before, '$.durationSeconds'), 1))`, 'whole')
      .addSelect(
        `TOTAL(CASE WHEN item.status IN (:...open) THEN 0 ELSE coalesce(json_extract(item.before, '$.durationSeconds'), 1) END)`,
        'done',
      )
      .setParameter('open', OPEN)
      .where({ runId: In(open.map(({ id }) => id)) })
      .groupBy('item.runId');
    const lengths = await database.manyOf<{ runId: string; whole: number; done: number }>(query);
    const sharesOf = new Map(lengths.map(({ runId, whole, done }) => [runId, whole ? done / whole : 0]));
    const now = Date.parse(surroundings.now());
    return open.map((run) => {
      const share = sharesOf.get(run.id) ?? 0;
      const started = run.startedAt && !run.paused ? Date.parse(run.startedAt) : null;
      return { ...run, share, secondsLeft: started === null ? null : secondsLeft(started, share, now) };
    });
  }

  /** The last word on each recording decides: what a later run brought inside waits for nobody. */
  private async items(titles: readonly TitleEntity[]): Promise<Today['items']> {
    const { database, standing } = this.needs;
    const found: Today['items'] = [];
    for (const { id: titleId, name: titleName } of titles) {
      const open = (await standing.of(titleId)).filter(
        ({ status, state }) => (status === 'off-target' && state !== 'accepted') || status === 'failed',
      );
      if (!open.length) continue;
      const items = await database.of(RunItemEntity).find({
        where: { id: In(open.map(({ itemId }) => itemId)) },
        select: { id: true, accepted: true, limits: true, error: true },
      });
      const recordings = await this.namesOf(open.map(({ recordingId }) => recordingId));
      for (const { recordingId, runId, itemId, status } of open) {
        const item = items.find(({ id }) => id === itemId);
        if (!item || item.accepted) continue;
        const name = recordings.get(recordingId) ?? '';
        const told = { runId: runId!, itemId: item.id, recordingId, name, status: status as 'off-target' | 'failed' };
        found.push({ titleId, titleName, ...told, sentence: sentenceOf(item) });
      }
    }
    return found;
  }

  private async unreadable(titles: readonly TitleEntity[]): Promise<Today['unreadable']> {
    const { database } = this.needs;
    const found = await database.of(RecordingEntity).find({
      where: { status: 'unreadable', trashedAt: IsNull(), superseded: false },
      select: { id: true, name: true, givenName: true, titleId: true, error: true },
      order: { createdAt: 'ASC' },
    });
    return found.flatMap(({ id, name, givenName, titleId, error }) => {
      const title = titles.find((one) => one.id === titleId);
      return title ? [{ titleId, titleName: title.name, recordingId: id, name: givenName || name, error }] : [];
    });
  }

  /** Files of watched folders that no run has taken, where a run is wanted; and why none has. */
  private async arrivals(titles: readonly TitleEntity[]): Promise<Today['arrivals']> {
    const { database } = this.needs;
    const watched = titles.filter(({ inbox }) => inbox?.run);
    if (!watched.length) return [];
    const waiting = await database.of(ArrivalEntity).findBy({ titleId: In(watched.map(({ id }) => id)), isRun: false });
    const live = await database.of(RecordingEntity).find({
      where: { id: In(waiting.map(({ recordingId }) => recordingId)), trashedAt: IsNull(), superseded: false },
      select: { id: true, titleId: true },
    });
    return watched.flatMap(({ id: titleId, name: titleName, chainId, targetId }) => {
      const recordingIds = live.filter((one) => one.titleId === titleId).map(({ id }) => id);
      const lacks = [...(chainId ? [] : ['chain']), ...(targetId ? [] : ['target'])];
      const sentence = lacks.length
        ? `They wait for a run: the title has no ${lacks.join(' and no ')} yet.`
        : (waiting.find((one) => one.titleId === titleId && one.apart)?.apart ??
          this.needs.whyNotRun(titleId) ??
          'They are being measured, and are run then.');
      return recordingIds.length ? [{ titleId, titleName, recordingIds, sentence }] : [];
    });
  }

  private async notes(titles: readonly TitleEntity[]): Promise<Today['notes']> {
    const found = await withOpenNotes(this.needs.database.of(RecordingEntity));
    return titles.flatMap(({ id: titleId, name: titleName }) =>
      found
        .filter((one) => one.titleId === titleId)
        .flatMap(({ id: recordingId, name, givenName, notes }) =>
          notes.map((note) => ({ titleId, titleName, recordingId, name: givenName || name, ...note })),
        ),
    );
  }

  private async namesOf(ids: readonly string[]): Promise<Map<string, string>> {
    const found = await this.needs.database
      .of(RecordingEntity)
      .find({ where: { id: In([...ids]) }, select: { id: true, name: true, givenName: true } });
    return new Map(found.map(({ id, name, givenName }) => [id, givenName || name]));
  }
}

/** Why it waits: what is missed by most, or what went wrong. */
const sentenceOf = ({ error, limits }: Pick<RunItemEntity, 'error' | 'limits'>): string =>
  error?.message ?? (missedText(limits ?? []) || 'There is nothing but silence.');

import type { RecipeFile, RowsQuery, RunItem } from '@tonos/contract';
import { toResult } from '@tonos/core';
import type { DeliveryNotes } from '@tonos/formats';
import { In, IsNull, Not } from 'typeorm';
import type { Database } from '../database/database.ts';
import { type Kept, RowCache } from '../database/row-cache.ts';
import { checkThere, HttpProblem, notFound } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { ChaptersOf } from './delivery-package.ts';
import { describeItem } from './describe.ts';
import { LACKS_A_PART } from './lacks-a-part.ts';
import { recipeFileOf } from './recipe.ts';
import { RunItemEntity } from './run-entity.ts';

/** What the other columns of an item tell of: it changes only with them. */
const LARGE = ['before', 'after', 'limits', 'findings', 'timeMap', 'parts', 'fill'] as const;

/** The items of runs as they are looked at: boards, files, recipes, chapters. Nothing is changed here. */
export class RunItems {
  private readonly rows = new RowCache<RunItem>();

  constructor(private readonly database: Database) {}

  async listOf(runId: string, ids?: readonly string[]): Promise<RunItem[]> {
    return (await this.keptOf(runId, { ids })).map(({ value }) => value);
  }

  /** As `listOf`, some of all, each in JSON. */
  async jsonOf(runId: string, some: RowsQuery): Promise<string[]> {
    return (await this.keptOf(runId, some)).map(({ json }) => json);
  }

  private async keptOf(
    runId: string,
    { ids, from = 0, count }: Partial<RowsQuery> & { ids?: readonly string[] },
  ): Promise<Kept<RunItem>[]> {
    const query = this.database
      .of(RunItemEntity)
      .createQueryBuilder('item')
      .leftJoin(RecordingEntity, 'recording', 'recording.id = item.recordingId')
      .where({ runId, ...(ids ? { id: In(ids) } : {}) })
      .orderBy('item.position')
      .offset(from)
      .limit(count);
    const columns = [...this.database.lightOf('item', RunItemEntity, LARGE), 'recording.name', 'recording.givenName'];
    return this.rows.complete(await this.database.signsOf(query, columns), (missing) => this.read(missing));
  }

  private async read(ids: readonly string[]): Promise<RunItem[]> {
    const items = await this.database.of(RunItemEntity).findBy({ id: In(ids) });
    const recordings = await this.database.of(RecordingEntity).find({
      where: { id: In(items.map((item) => item.recordingId)) },
      select: { id: true, name: true, givenName: true },
    });
    const names = new Map(recordings.map(({ id, name, givenName }) => [id, givenName || name]));
    return items.map((item) => describeItem(item, names.get(item.recordingId) ?? ''));
  }

  /** The items of all takes of a recording. @throws HttpProblem 404 */
  async ofRecording(recordingId: string): Promise<RunItem[]> {
    const { takeOf } = checkThere(
      'recording',
      recordingId,
      await this.database
        .of(RecordingEntity)
        .findOne({ where: { id: recordingId }, select: { id: true, takeOf: true, trashedAt: true, removedAt: true } }),
    );
    const takes = await this.database.of(RecordingEntity).find({ where: { takeOf }, select: { id: true } });
    const items = await this.database
      .of(RunItemEntity)
      .find({ where: { recordingId: In(takes.map(({ id }) => id)) }, select: { id: true } });
    return this.read(items.map(({ id }) => id));
  }

  async overview(id: string, itemId: string): Promise<{ columns: [number, number][] }> {
    const item = await this.database
      .of(RunItemEntity)
      .findOne({ where: { id: itemId, runId: id }, select: { id: true, overview: true } });
    if (!item) throw notFound('item', itemId);
    return { columns: item.overview ?? [] };
  }

  /** What is delivered of an item. */
  async output(id: string, itemId: string): Promise<{ sha256: string; name: string; container: string }> {
    const item = await this.database.of(RunItemEntity).findOneBy({ id: itemId, runId: id });
    if (!item) throw notFound('item', itemId);
    if (!item.outputSha256)
      throw new HttpProblem(404, 'no-output', `There is no delivered file for this item: it is ${item.status}.`, {
        itemStatus: item.status,
      });
    if (item.cleared)
      throw new HttpProblem(410, 'cleared', 'The file was cleared to save room. Make it again: it comes out the same.');
    return { sha256: item.outputSha256, name: item.outputName!, container: item.after!.container };
  }

  /** Everything that an item's delivered file came from. */
  async recipe(id: string, itemId: string): Promise<RecipeFile> {
    const item = await this.database.of(RunItemEntity).findOne({
      where: { id: itemId, runId: id },
      select: { id: true, status: true, recordingId: true, recipe: true, findings: true, timeMap: true },
    });
    if (!item) throw notFound('item', itemId);
    if (!item.recipe)
      throw new HttpProblem(404, 'no-recipe', `There is no recipe for this item: it is ${item.status}.`);
    const isGone = await this.isGone(item);
    const { timeMap } = item;
    return {
      ...recipeFileOf(item.recipe, item.findings ?? []),
      ...(timeMap && { timeMap }),
      ...(isGone ? { sourceRemoved: true } : {}),
    };
  }

  /** Whether something that it was made of was removed for good. */
  private async isGone({ id, recordingId }: RunItemEntity): Promise<boolean> {
    const recordings = this.database.of(RecordingEntity);
    if (await recordings.existsBy({ id: recordingId, removedAt: Not(IsNull()) })) return true;
    return this.database.of(RunItemEntity).createQueryBuilder('item').where({ id }).andWhere(LACKS_A_PART).getExists();
  }

  /** The chapters of a run's items, where chain and finish have put them. */
  async chaptersOf(runId: string): Promise<Map<string, ReturnType<ChaptersOf>>> {
    const items = await this.database
      .of(RunItemEntity)
      .find({ where: { runId }, select: { id: true, recipe: true, findings: true, timeMap: true, chapters: true } });
    return new Map(
      items.map(({ id, recipe, findings, timeMap, chapters: placed }) => {
        const { chapters = [], title = '', artist } = (recipe?.notes ?? {}) as Partial<DeliveryNotes>;
        if (placed) return [id, { chapters: placed, title, performer: artist }];
        // before there were maps the finish alone moved anything
        const shift = Number(findings?.find(({ kind }) => kind === 'finish')?.findings.headSeconds ?? 0);
        const map = timeMap ?? [[0, shift] as const];
        const moved = chapters.map((one) => ({ ...one, startSeconds: Math.max(0, toResult(map, one.startSeconds)) }));
        return [id, { chapters: moved, title, performer: artist }];
      }),
    );
  }
}

import type { FileProblem, ItemStatus, RecipeInput } from '@tonos/contract';
import { type EntityManager, In, Not } from 'typeorm';
import type { Database } from '../database/database.ts';
import { findRowOrFail, updateRows } from '../database/rows.ts';
import type { EventBus } from '../events/event-bus.ts';
import type { ClaimEntity } from '../jobs/claim-entity.ts';
import type { Ended, Held, JobKind, Keeping, MachineRef, Made } from '../jobs/job-kind.ts';
import type { Payload, RenderPayload } from '../jobs/payload.ts';
import type { BlobStore, StoredBlob } from '../storage/blob-store.ts';
import { diskTrouble } from '../storage/disk-trouble.ts';
import type { Surroundings } from '../surroundings.ts';
import type { Rendered } from '../workers/messages.ts';
import { leaseItems } from './lease-items.ts';
import { finishIfDone } from './open-items.ts';
import { RunItemEntity } from './run-entity.ts';
import type { RunService } from './run-service.ts';

/** So long what has changed is gathered before it is told. */
const SOON_MS = 100;

// Written out, since the index of what waits serves statements that name the status, and a machine with much to do asks for each piece.
const IS_WAITING = `"item"."status" = 'queued' AND "recording"."status" != 'measuring'`;
const ITEMS = `"run_item" "item" INDEXED BY "item_waits" CROSS JOIN "recording" ON "recording"."id" = "item"."recordingId"`;
/** Runs of which an item waits, in the order in which they are served. */
const RUNS_THAT_WAIT = `SELECT "id" FROM "run" WHERE "paused" = 0 AND EXISTS (SELECT 1 FROM "run_item" WHERE "runId" = "run"."id" AND "status" = 'queued') ORDER BY "priority" DESC, "createdAt", "id"`;
const FIRST_OF_RUN = `SELECT "item"."id" FROM ${ITEMS} WHERE "item"."runId" = ? AND ${IS_WAITING} ORDER BY "item"."position" LIMIT 1`;
const SO_MANY_WAIT = `SELECT COUNT(*) AS "count" FROM (SELECT 1 FROM ${ITEMS} CROSS JOIN "run" ON "run"."id" = "item"."runId" WHERE ${IS_WAITING} AND "run"."paused" = 0 LIMIT ?)`;

type Outcome = Partial<RunItemEntity> & { status: ItemStatus };

interface RenderJobsNeeds {
  database: Database;
  store: BlobStore;
  bus: EventBus;
  runs: RunService;
  surroundings: Surroundings;
  version: string;
  report(error: unknown): void;
}

/** The items of runs: taken under a lease, rendered, and how they came out stored. */
export class RenderJobs implements JobKind {
  readonly kind = 'render';
  readonly leadsOn = false;
  /** Items of runs that nobody was told of yet. */
  private readonly untold = new Map<string, Set<string>>();

  constructor(private readonly needs: RenderJobsNeeds) {}

  /** Items that no claim holds any more wait again. */
  async recover(standing: readonly number[]): Promise<void> {
    const lease = Not(In(standing.map(String)));
    await this.needs.database.transaction((manager) =>
      manager.update(RunItemEntity, { status: 'working', lease }, { status: 'queued', lease: null }),
    );
  }

  async next(manager: EntityManager): Promise<string | undefined> {
    for (const { id } of await manager.query<{ id: string }[]>(RUNS_THAT_WAIT)) {
      const [item] = await manager.query<{ id: string }[]>(FIRST_OF_RUN, [id]);
      if (item) return item.id;
    }
    return undefined;
  }

  async waiting(most: number): Promise<number> {
    const [{ count }] = await this.needs.database.many<{ count: number }>(SO_MANY_WAIT, [most]);
    return count;
  }

  async hold(manager: EntityManager, id: string, fence: number, by: MachineRef): Promise<Held> {
    const { surroundings, version } = this.needs;
    const item = await findRowOrFail(manager, RunItemEntity, { id }, ['recipe']);
    const lease = { lease: String(fence), now: surroundings.now(), version, machine: by };
    const { runId, titleId, refused, items } = await leaseItems(manager, item, lease);
    const held = { subjectId: runId, titleId };
    if (refused) return { ...held, itemIds: [refused] };
    return {
      ...held,
      itemIds: items.map((one) => one.item.id),
      payload: { kind: 'render', members: items.map(({ name, recipe, earlier }) => ({ name, recipe, earlier })) },
    };
  }

  isWanted(claim: ClaimEntity): Promise<boolean> {
    return this.needs.database.of(RunItemEntity).existsBy(mine(claim));
  }

  async release(manager: EntityManager, claim: ClaimEntity): Promise<void> {
    await manager.update(RunItemEntity, mine(claim), { status: 'queued', lease: null });
  }

  async keep(claim: ClaimEntity, payload: Payload, { end, made, seconds }: Ended): Promise<Keeping> {
    const { members } = payload as RenderPayload;
    const ends = end.type === 'set-rendered' ? end.ends : claim.itemIds.map(() => end);
    const outcomes = new Map<string, Outcome>();
    for (const [i, id] of claim.itemIds.entries()) {
      const one = ends[i];
      if (one.type === 'failed') outcomes.set(id, { status: 'failed', error: one.error, seconds });
      else if (one.type === 'rendered')
        outcomes.set(id, { ...(await this.kept(members[i].recipe, one, made[i])), seconds });
    }
    const now = this.needs.surroundings.now();
    const write = async (manager: EntityManager) => {
      // an item that was cancelled or opened again meanwhile belongs to somebody else
      for (const id of claim.itemIds)
        await updateRows(
          manager,
          RunItemEntity,
          { ...underLease(claim), id },
          { ...(outcomes.get(id) ?? { status: 'queued' }), lease: null },
        );
      await finishIfDone(manager, claim.subjectId, now);
    };
    const stored = [...outcomes.values()].flatMap(({ outputSha256 }) => outputSha256 ?? []);
    return { write, written: () => this.needs.store.recorded(stored) };
  }

  progress(
    { subjectId: runId, titleId, itemIds }: ClaimEntity,
    share: number,
    stage: string,
    secondsLeft: number | null,
  ) {
    for (const itemId of itemIds)
      this.needs.bus.publish({ type: 'item-progress', titleId, runId, itemId, share, stage, secondsLeft });
  }

  /** What changes at about the same time is told at once: a run's counts are looked up once for all of it. */
  async publish({ subjectId: runId, titleId, itemIds }: ClaimEntity): Promise<void> {
    const { bus, report } = this.needs;
    bus.note({ type: 'run-moved', titleId, runId });
    if (!bus.isHeard) return;
    const items = this.untold.get(runId) ?? new Set();
    if (!this.untold.has(runId)) setTimeout(() => this.tell(runId).catch(report), SOON_MS).unref();
    this.untold.set(runId, items);
    for (const id of itemIds) items.add(id);
  }

  private async tell(runId: string): Promise<void> {
    const items = [...(this.untold.get(runId) ?? [])];
    this.untold.delete(runId);
    // whoever looked has gone meanwhile, or the server stops
    if (this.needs.bus.isHeard) await this.needs.runs.publish(runId, items);
  }

  private stored(output: NonNullable<Made['output']>): StoredBlob | Promise<StoredBlob> {
    const { store } = this.needs;
    if (typeof output === 'string') return store.adopt(output);
    return 'path' in output ? store.place(output.path, output) : output;
  }

  /** Puts a delivery into the store; where that can't be, how its item fails. */
  private async kept(recipe: RecipeInput, end: Rendered, made: Made): Promise<Outcome> {
    const { store, report } = this.needs;
    try {
      const { sha256, sizeBytes } = await this.stored(made.output!);
      if (made.survey) await store.placeDerived(made.survey, sha256, '.survey');
      if (made.copy && end.copied) await store.placeDerived(made.copy, sha256, '.wav');
      return { ...outcomeOf(recipe, end), outputSha256: sha256, outputBytes: sizeBytes };
    } catch (error) {
      const failed = (problem: FileProblem): Outcome => ({ status: 'failed', error: problem });
      const disk = diskTrouble(error);
      if (disk) return failed(disk);
      report(error);
      const message = `What was rendered could not be put into the store: ${(error as Error).message}. See to the data folder, and try it again.`;
      return failed({ code: 'not-stored', message });
    }
  }
}

/** The items that a claim still holds. */
const mine = (claim: ClaimEntity) => ({ ...underLease(claim), id: In(claim.itemIds) });

const underLease = ({ fence }: ClaimEntity) => ({ status: 'working' as const, lease: String(fence) });

function outcomeOf(recipe: RecipeInput, end: Rendered): Outcome {
  const names = new Map(recipe.order?.file.parts.map(({ id, name }) => [id, name || id]));
  const { verdict, after, limits, findings, overview, timeMap, parts, chapters } = end;
  return {
    status: verdict,
    after,
    limits,
    findings,
    timeMap,
    parts: parts?.map((part) => ({ ...part, name: names.get(part.id)! })) ?? null,
    chapters: chapters ?? null,
    overview,
    error: null,
    recipe,
    cleared: false,
    remake: false,
  };
}

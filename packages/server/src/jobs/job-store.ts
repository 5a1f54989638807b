import { type FindOptionsWhere, In, IsNull, LessThan } from 'typeorm';
import type { Database } from '../database/database.ts';
import { deleteRows, insertRow, updateRows } from '../database/rows.ts';
import { insist } from '../storage/disk-trouble.ts';
import type { Surroundings } from '../surroundings.ts';
import { secondsLeft } from '../workers/seconds-left.ts';
import { ClaimEntity } from './claim-entity.ts';
import type { Ended, JobKind, MachineRef } from './job-kind.ts';
import { filesOf, type Payload } from './payload.ts';

/** A machine that says nothing for so long has lost its work. It speaks every five seconds. */
export const LEASE_MS = 20_000;
/** How often it is looked for leases that ran out. */
const SWEEP_MS = 2000;

export interface Claimed {
  claim: ClaimEntity;
  payload: Payload;
}

/** How far a claim is. */
export interface Progress {
  fence: number;
  share: number;
  stage: string;
}

interface JobStoreNeeds {
  database: Database;
  surroundings: Surroundings;
  /** In the order in which they are served. */
  kinds: readonly JobKind[];
  report(error: unknown): void;
  /** Told when work may have come up. */
  nudge(): void;
  /** How often it is looked for leases that ran out. */
  sweepMs?: number;
}

/**
 * Who works on what. What waits is said by the recordings and the items themselves, so that nothing has to be kept in step with them; a claim
 * says who has taken a piece of it. Threads of this process and other machines claim alike, and one place settles.
 */
export class JobStore {
  private readonly kinds: Map<string, JobKind>;
  private readonly stopped = new AbortController();
  private timer: NodeJS.Timeout | undefined;
  /** How often work may have come up, and how often of these nothing was found. */
  private rings = 1;
  private answered = 0;
  /** The files that claims read, by their numbers, as far as they were asked for. */
  private readonly filesRead = new Map<number, readonly string[]>();

  constructor(private readonly needs: JobStoreNeeds) {
    this.kinds = new Map(needs.kinds.map((kind) => [kind.kind, kind]));
  }

  /**
   * Claims of a process that is gone are void; those of other machines get a full term, since nothing could renew them meanwhile.
   * @param isKnown whether a machine may go on with what it has
   */
  async recover(isKnown: (machineId: string) => boolean): Promise<void> {
    const { database } = this.needs;
    const claims = await database.of(ClaimEntity).find();
    const standing = claims.filter(({ machineId }) => machineId !== null && isKnown(machineId));
    for (const claim of claims) if (!standing.includes(claim)) await this.end(claim);
    await this.renewAll();
    for (const kind of this.needs.kinds) await kind.recover(standing.map(({ fence }) => fence));
    this.watch();
  }

  /** The next piece of work, held from now on; undefined where nothing waits. */
  async claim(by: MachineRef): Promise<Claimed | undefined> {
    for (;;) {
      const asked = this.rings;
      const taken = await this.needs.database.transaction(async (manager) => {
        for (const kind of this.needs.kinds) {
          const id = await kind.next(manager);
          if (id === undefined) continue;
          const blank = this.newClaim(kind.kind, by);
          const fence = await insertRow(manager, ClaimEntity, blank);
          const held = await kind.hold(manager, id, fence, by);
          if (held.payload) await updateRows(manager, ClaimEntity, { fence }, held);
          else await deleteRows(manager, ClaimEntity, { fence });
          return { claim: { ...blank, fence, ...held } as ClaimEntity, payload: held.payload };
        }
        return undefined;
      });
      if (!taken) {
        // what came up meanwhile was not looked for
        this.answered = asked;
        return undefined;
      }
      const { claim, payload } = taken;
      this.kindOf(claim).publish(claim).catch(this.needs.report);
      if (payload) return { claim, payload };
    }
  }

  /**
   * Holds claims for another term: those that their machine names, since it may never have heard of one.
   * @returns those that stand, and the numbers of those that are void or that nobody wants any more
   */
  async renew(
    machineId: string | null,
    fences: readonly number[],
  ): Promise<{ claims: readonly ClaimEntity[]; ended: number[] }> {
    const claims = await this.of(machineId);
    if (machineId !== null && claims.length)
      await this.needs.database.transaction((manager) =>
        manager.update(ClaimEntity, { machineId, fence: In([...fences]) }, { leasedUntil: this.termFromNow() }),
      );
    const wanted = new Set<number>();
    for (const claim of claims) if (await this.kindOf(claim).isWanted(claim)) wanted.add(claim.fence);
    return { claims, ended: fences.filter((fence) => !wanted.has(fence)) };
  }

  /** Whether work may wait: nobody was told since that none does. */
  get mayWait(): boolean {
    return this.rings > this.answered;
  }

  /** Work may have come up. */
  noteWork(): void {
    this.rings++;
  }

  /** What a machine has claimed. */
  async of(machineId: string | null): Promise<ClaimEntity[]> {
    const claims = this.needs.database.of(ClaimEntity);
    return claims.find({ where: { machineId: machineId ?? IsNull() }, order: { fence: 'ASC' } });
  }

  /** Tells whoever looks how far claims are. */
  progress(claims: readonly ClaimEntity[], steps: readonly Progress[]): void {
    const now = this.nowMs();
    for (const { fence, share, stage } of steps) {
      const claim = claims.find((one) => one.fence === fence);
      if (!claim) continue;
      const left = secondsLeft(Date.parse(claim.claimedAt), share, now);
      this.kindOf(claim).progress(claim, share, stage, left);
    }
  }

  /**
   * Writes down how a job ended, in one transaction with the end of its claim.
   * @param how it ended: asked for once it is known that the claim stands
   * @returns false where the claim does not stand any more: then somebody else has the work, and nothing was written
   */
  async settle(machineId: string | null, fence: number, how: () => Promise<Ended>): Promise<boolean> {
    const { database, report, nudge } = this.needs;
    const claim = await this.find(machineId, fence, ['payload']);
    const payload = claim?.payload;
    if (!payload) return false;
    const keeping = await this.kindOf(claim).keep(claim, payload, await how());
    const settle = () =>
      database.transaction(async (manager) => {
        const isMine = (await deleteRows(manager, ClaimEntity, { fence })) > 0;
        if (isMine) await keeping.write(manager);
        return isMine;
      });
    const isMine = await insist(settle, this.stopped.signal, report);
    this.filesRead.delete(fence);
    if (isMine) keeping.written?.();
    await this.kindOf(claim).publish(claim);
    if (this.kindOf(claim).leadsOn) nudge();
    return isMine;
  }

  /** Gives work back: it waits again. What is not held any more is left alone. */
  async release(machineId: string | null, fence: number): Promise<void> {
    const claim = await this.find(machineId, fence);
    if (claim) await this.end(claim);
  }

  /** All that a machine has waits again. */
  async releaseAll(machineId: string): Promise<void> {
    for (const claim of await this.of(machineId)) await this.end(claim);
  }

  /** How many pieces wait, counted to so many. */
  async waiting(most = Number.MAX_SAFE_INTEGER): Promise<number> {
    const counts = await Promise.all(this.needs.kinds.map((kind) => kind.waiting(most)));
    return Math.min(
      most,
      counts.reduce((sum, count) => sum + count, 0),
    );
  }

  stop(): void {
    clearTimeout(this.timer);
    this.stopped.abort();
  }

  private newClaim(kind: string, by: MachineRef): Omit<ClaimEntity, 'fence'> {
    return {
      kind,
      subjectId: '',
      itemIds: [],
      titleId: '',
      payload: null,
      machineId: by?.id ?? null,
      leasedUntil: by ? this.termFromNow() : null,
      claimedAt: this.needs.surroundings.now(),
    };
  }

  private find(machineId: string | null, fence: number, also: (keyof ClaimEntity)[] = []): Promise<ClaimEntity | null> {
    return this.needs.database.find(ClaimEntity, { fence, machineId }, also);
  }

  /** Whether what a machine has claimed hangs on a file. */
  async isReadBy(machineId: string, sha256: string): Promise<boolean> {
    for (const claim of await this.of(machineId)) {
      const known = this.filesRead.get(claim.fence);
      const payload = known ? null : await this.payloadOf(claim);
      const files = known ?? (payload ? filesOf(payload) : []);
      this.filesRead.set(claim.fence, files);
      if (files.includes(sha256)) return true;
    }
    return false;
  }

  /** What a claim is to do; null where it does not stand any more. */
  async payloadOf({ fence }: Pick<ClaimEntity, 'fence'>): Promise<Payload | null> {
    return (await this.needs.database.find(ClaimEntity, { fence }, ['payload']))?.payload ?? null;
  }

  /** @param only what has to hold still when its turn comes */
  private async end(claim: ClaimEntity, only: FindOptionsWhere<ClaimEntity> = {}): Promise<void> {
    const { database, report, nudge } = this.needs;
    const kind = this.kinds.get(claim.kind);
    const change = () =>
      database.transaction(async (manager) => {
        const { affected } = await manager.delete(ClaimEntity, { ...only, fence: claim.fence });
        if (affected) await kind?.release(manager, claim);
      });
    await insist(change, this.stopped.signal, report);
    this.filesRead.delete(claim.fence);
    await kind?.publish(claim);
    // who gives up work of this process knows when to try again
    if (claim.machineId !== null) nudge();
  }

  /** Leases that ran out go back. Where this machine itself slept, nobody could renew: all get a full term first. */
  private watch(): void {
    const { sweepMs = SWEEP_MS } = this.needs;
    const due = this.nowMs() + sweepMs;
    this.timer = setTimeout(async () => {
      if (this.stopped.signal.aborted) return;
      try {
        if (this.nowMs() - due > LEASE_MS / 2) await this.renewAll();
        else await this.sweep();
      } catch (error) {
        this.needs.report(error);
      }
      this.watch();
    }, sweepMs).unref();
  }

  private async sweep(): Promise<void> {
    const now = this.needs.surroundings.now();
    const over = await this.needs.database.of(ClaimEntity).findBy({ leasedUntil: LessThan(now) });
    // one that is renewed meanwhile stays
    for (const claim of over) await this.end(claim, { leasedUntil: claim.leasedUntil! });
  }

  private async renewAll(): Promise<void> {
    const change = { leasedUntil: this.termFromNow() };
    await this.needs.database.transaction((manager) =>
      manager.createQueryBuilder().update(ClaimEntity).set(change).where('machineId IS NOT NULL').execute(),
    );
  }

  private kindOf({ kind }: ClaimEntity): JobKind {
    return this.kinds.get(kind)!;
  }

  private termFromNow(): string {
    return new Date(this.nowMs() + LEASE_MS).toISOString();
  }

  private nowMs(): number {
    return Date.parse(this.needs.surroundings.now());
  }
}

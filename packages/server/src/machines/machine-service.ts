import type { Beat, Beaten, Completion, Hello, Machine, Machines, StandingOfMachine } from '@tonos/contract';
import type { Database } from '../database/database.ts';
import { caller } from '../http/caller.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import type { ClaimEntity } from '../jobs/claim-entity.ts';
import type { Ended, Made } from '../jobs/job-kind.ts';
import { type Claimed, type JobStore, LEASE_MS } from '../jobs/job-store.ts';
import type { Surroundings } from '../surroundings.ts';
import type { JobEnd } from '../workers/messages.ts';
import type { Doorbell } from './doorbell.ts';
import type { Incoming } from './incoming.ts';
import { MachineEntity } from './machine-entity.ts';
import type { WorkerTokenEntity } from './worker-token-entity.ts';

interface MachineServiceNeeds {
  database: Database;
  jobs: JobStore;
  incoming: Incoming;
  doorbell: Doorbell;
  surroundings: Surroundings;
  version: string;
  threads: number;
  /** Told when somebody may take work. */
  nudge(): void;
}

/** So much the last job counts in what is told of a machine's speed. */
const NEWEST_SHARE = 0.2;

/** The machines that work along: who they are, what they have, whether they get more. */
export class MachineService {
  /** How fast machines are, written down with what they say next. */
  private readonly speeds = new Map<string, number>();

  constructor(private readonly needs: MachineServiceNeeds) {}

  async hello(token: WorkerTokenEntity, { id, ...told }: Hello): Promise<StandingOfMachine> {
    const lastHeardAt = this.needs.surroundings.now();
    const own = { ...told, tokenId: token.id, lastHeardAt, resting: null, left: false };
    const machine = await this.needs.database.transaction(async (manager) => {
      const known = await manager.findOneBy(MachineEntity, { id });
      const fresh = { id, draining: false, timesRealTime: null, cacheBytes: 0 };
      return manager.save(MachineEntity, { ...(known ?? fresh), ...own });
    });
    // one that begins anew has nothing of what it had
    await this.needs.jobs.releaseAll(id);
    return this.standingOf(machine);
  }

  /** The next piece of work for a machine; undefined where nothing waits, or where it gets none. */
  async claim(token: WorkerTokenEntity, id: string): Promise<Claimed | undefined> {
    const machine = await this.known(token, id);
    const isIn = machine !== null && this.standingOf(machine).state === 'in';
    return isIn ? this.needs.jobs.claim({ id, name: machine.name }) : undefined;
  }

  async beat(token: WorkerTokenEntity, { machine: id, jobs, leaving, ...told }: Beat): Promise<Beaten> {
    const machine = await this.known(token, id);
    const fences = jobs.map(({ fence }) => fence);
    if (!machine) return { ...UNKNOWN, ended: fences, waits: false };
    const { database, surroundings } = this.needs;
    const timesRealTime = this.speeds.get(id) ?? machine.timesRealTime;
    const change = { ...told, timesRealTime, left: leaving, lastHeardAt: surroundings.now() };
    await database.transaction((manager) => manager.update(MachineEntity, { id }, change));
    const standing = this.standingOf(machine);
    if (leaving || standing.state === 'refused') {
      await this.needs.jobs.releaseAll(id);
      return { ...standing, ended: fences, waits: false };
    }
    const { claims, ended } = await this.needs.jobs.renew(id, fences);
    this.needs.jobs.progress(claims, jobs);
    return { ...standing, ended, waits: this.needs.jobs.mayWait };
  }

  /**
   * How a piece of work ended.
   * @throws HttpProblem 409 `late` where somebody else has it by now, `bytes-missing` where its files were not sent
   */
  async complete(token: WorkerTokenEntity, { machine: id, fence, end, made, seconds }: Completion): Promise<void> {
    const machine = await this.known(token, id);
    if (!machine || this.standingOf(machine).state === 'refused') throw late();
    const came = end as JobEnd;
    checkMade(came, made);
    let isKept = false;
    const how = async (): Promise<Ended> => {
      const kept = await Promise.all(made.map((one) => this.madeOf(one)));
      isKept = true;
      return { end: came, made: kept, seconds };
    };
    try {
      if (!(await this.needs.jobs.settle(id, fence, how))) throw late();
    } finally {
      // they lie elsewhere by now, whoever has the work; of what came late nothing was touched
      if (isKept) for (const sha256 of made.flatMap((one) => Object.values(one))) this.needs.incoming.used(sha256);
    }
    this.learn(machine, soundOf(came), seconds);
  }

  async release(token: WorkerTokenEntity, id: string, fence: number): Promise<void> {
    if (await this.known(token, id)) await this.needs.jobs.release(id, fence);
  }

  /** @throws HttpProblem 404 for a file that no machine of this token works on */
  async checkReads(token: WorkerTokenEntity, sha256: string): Promise<void> {
    const machines = await this.needs.database.of(MachineEntity).findBy({ tokenId: token.id });
    for (const { id } of machines) if (await this.needs.jobs.isReadBy(id, sha256)) return;
    throw notFound('file', sha256);
  }

  async list(): Promise<Machines> {
    const { database, jobs, doorbell, threads } = this.needs;
    const found = await database.of(MachineEntity).find({ order: { name: 'ASC', id: 'ASC' } });
    const machines = await Promise.all(found.map(async (one) => this.describe(one, await jobs.of(one.id))));
    const own = await jobs.of(null);
    return {
      machines,
      queue: doorbell.state(),
      here: { threads, ...doingOf(own) },
      waiting: await jobs.waiting(),
    };
  }

  /** @throws HttpProblem 404 */
  async setDraining(id: string, draining: boolean): Promise<void> {
    const { affected } = await this.needs.database.transaction((manager) =>
      manager.update(MachineEntity, { id }, { draining }),
    );
    if (!affected) throw notFound('machine', id);
    this.needs.nudge();
  }

  /** @throws HttpProblem 404; 409 for one that would be back with its next word */
  async forget(id: string): Promise<void> {
    const { database, jobs } = this.needs;
    const machine = await database.of(MachineEntity).findOneBy({ id });
    if (!machine) throw notFound('machine', id);
    if (!this.isLost(machine))
      throw new HttpProblem(409, 'still-there', `${machine.name} still works along: end it there first.`);
    await jobs.releaseAll(id);
    await database.transaction((manager) => manager.delete(MachineEntity, { id }));
    this.speeds.delete(id);
  }

  /** Whether a machine may go on with what it had before the server was started. */
  async standing(): Promise<(id: string) => boolean> {
    const machines = await this.needs.database.of(MachineEntity).find();
    const known = new Map(machines.map((machine) => [machine.id, machine]));
    return (id) => known.get(id)?.version === this.needs.version;
  }

  /** A machine that speaks by this token; null where it has to say hello first. */
  private known({ id: tokenId }: WorkerTokenEntity, id: string): Promise<MachineEntity | null> {
    return this.needs.database.find(MachineEntity, { id, tokenId });
  }

  private standingOf({ version, draining }: MachineEntity): StandingOfMachine {
    const queue = this.needs.doorbell.queue;
    if (version !== this.needs.version)
      return {
        state: 'refused',
        reason: `It runs Tonos ${version}, and the server ${this.needs.version}: the same recipe could come out otherwise. Bring it to the same version.`,
        queue,
      };
    return { state: draining ? 'draining' : 'in', reason: null, queue };
  }

  private async madeOf({ output, survey, copy }: Completion['made'][number]): Promise<Made> {
    const { incoming } = this.needs;
    const kept = output === undefined ? undefined : await incoming.use(output);
    // where the delivery was there before, so was what is derived of it
    const isKnown = kept !== undefined && !('path' in kept);
    const derived = async (sha256: string | undefined) => {
      if (sha256 === undefined || (isKnown && !incoming.has(sha256))) return undefined;
      const file = await incoming.use(sha256);
      return 'path' in file ? file.path : undefined;
    };
    return { output: kept, survey: await derived(survey), copy: await derived(copy) };
  }

  /** How fast it is, of late. */
  private learn({ id, threads, timesRealTime }: MachineEntity, sound: number, seconds: number): void {
    if (!sound || !seconds) return;
    const now = (sound / seconds) * threads;
    const known = this.speeds.get(id) ?? timesRealTime ?? now;
    this.speeds.set(id, known + NEWEST_SHARE * (now - known));
  }

  private isLost({ left, lastHeardAt }: MachineEntity): boolean {
    return left || Date.parse(this.needs.surroundings.now()) - Date.parse(lastHeardAt) > LEASE_MS;
  }

  private describe(machine: MachineEntity, claims: readonly ClaimEntity[]): Machine {
    const { id, name, version, threads, cacheBytes, cacheLimitBytes, lastHeardAt } = machine;
    const timesRealTime = this.speeds.get(id) ?? machine.timesRealTime;
    const told = { id, name, version, threads, timesRealTime, cacheBytes, cacheLimitBytes, lastHeardAt };
    return { ...told, ...this.stateOf(machine, claims.length > 0), ...doingOf(claims) };
  }

  private stateOf(machine: MachineEntity, isBusy: boolean): Pick<Machine, 'state' | 'reason'> {
    if (this.isLost(machine))
      return { state: 'lost', reason: machine.left ? 'It was ended there.' : 'It has said nothing for a while.' };
    const { state, reason } = this.standingOf(machine);
    if (state === 'refused') return { state, reason };
    if (state === 'draining') return { state, reason: machine.resting };
    return { state: isBusy ? 'working' : 'resting', reason: machine.resting };
  }
}

const UNKNOWN: StandingOfMachine = { state: 'unknown', reason: null, queue: null };

const late = () => new HttpProblem(409, 'late', 'Somebody else has this work by now. Nothing of this was taken.');

/** @throws HttpProblem 400 where a job came out and what came of it is not named */
function checkMade(end: JobEnd, made: Completion['made']): void {
  const ends = end.type === 'set-rendered' ? end.ends : [end];
  for (const [i, one] of ends.entries()) {
    if (one.type === 'failed') continue;
    if (!made[i]?.survey || (one.type === 'rendered' && !made[i].output))
      throw new HttpProblem(400, 'not-named', 'Name the files that came of it by their hashes.');
  }
}

/** Of what who asks may know of, what claims are about. */
function doingOf(claims: readonly ClaimEntity[]): Pick<Machine, 'doing' | 'measuring'> {
  const known = claims.filter(({ titleId }) => caller().sees(titleId));
  return {
    doing: known.flatMap(({ subjectId: runId, itemIds }) => itemIds.map((itemId) => ({ runId, itemId }))),
    measuring: known.filter(({ kind }) => kind === 'measure').length,
  };
}

/** Seconds of sound that a job went through. */
function soundOf(end: JobEnd): number {
  if (end.type === 'measured') return end.measurement.durationSeconds;
  if (end.type === 'rendered') return end.after.durationSeconds;
  if (end.type === 'set-rendered') return end.ends.reduce((sum, one) => sum + soundOf(one), 0);
  return 0;
}

import { randomUUID } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Machines } from '@tonos/contract';
import { Queue } from 'bullmq';
import { Redis } from 'ioredis';
import type { Doorbell } from './doorbell.ts';

/** Rings that come close together are one. */
const SOON_MS = 100;
/** The queue is looked after so often, whatever happens: one that was emptied fills again. */
const LOOK_EVERY_MS = 2000;
/** More machines than this are not woken at once; each that takes work goes on by itself. */
const MOST_TICKETS = 64;

/** What the doorbell asks of the work that there is. */
interface Waiting {
  waiting(most: number): Promise<number>;
}

/**
 * Rings by BullMQ on Redis. What waits stands in the database alone, which is its own outbox: again and again the queue is given as many
 * tickets as there is work, so that whatever Redis loses comes back.
 */
export class QueueDoorbell implements Doorbell {
  private readonly connection: Redis;
  private tickets: Queue | undefined;
  private status: Machines['queue']['status'] = 'away';
  private feeding: Promise<void> = Promise.resolve();
  private soon: NodeJS.Timeout | undefined;
  private readonly timer: NodeJS.Timeout;

  private constructor(
    url: string,
    readonly queue: string,
    private readonly work: Waiting,
  ) {
    // what can't be said now is said at the next look
    this.connection = new Redis(url, { enableOfflineQueue: false, maxRetriesPerRequest: 0, retryStrategy: () => 1000 });
    this.connection.on('error', this.isAway);
    this.connection.on('close', this.isAway);
    this.timer = setInterval(() => this.feed(), LOOK_EVERY_MS).unref();
    this.connection.on('ready', () => this.feed());
  }

  /** Under a name of its own for each data folder: several servers can share a Redis. */
  static async open(url: string, dataFolder: string, work: Waiting): Promise<QueueDoorbell> {
    const path = join(dataFolder, 'queue-name');
    const known = await readFile(path, 'utf8').catch(() => '');
    const name = known || `tonos-${randomUUID()}`;
    if (!known) await writeFile(path, name);
    return new QueueDoorbell(url, name, work);
  }

  ring(): void {
    this.soon ??= setTimeout(() => {
      this.soon = undefined;
      this.feed();
    }, SOON_MS).unref();
  }

  state(): Machines['queue'] {
    return { kind: 'redis', status: this.status };
  }

  async close(): Promise<void> {
    clearTimeout(this.soon);
    clearInterval(this.timer);
    await this.feeding;
    await this.tickets?.close().catch(() => {}); // it is away
    this.connection.disconnect();
  }

  private readonly isAway = () => {
    this.status = 'away';
  };

  /** Made once Redis is there: it asks it things at once. */
  private async begin(): Promise<Queue> {
    const tickets = new Queue(this.queue, { connection: this.connection });
    tickets.on('error', this.isAway);
    await tickets.waitUntilReady();
    return tickets;
  }

  private feed(): void {
    this.feeding = this.feeding.then(() => this.feedNow()).catch(this.isAway);
  }

  private async feedNow(): Promise<void> {
    if (this.connection.status !== 'ready') return;
    this.tickets ??= await this.begin();
    const { waiting = 0 } = await this.tickets.getJobCounts('waiting');
    this.status = 'ready';
    const work = await this.work.waiting(MOST_TICKETS);
    // those that go on by themselves leave theirs behind: each would be a call for nothing
    if (!work && waiting) await this.tickets.drain();
    const missing = work - waiting;
    if (missing <= 0) return;
    const ticket = { name: 'work', data: {}, opts: { removeOnComplete: true, removeOnFail: true } };
    await this.tickets.addBulk(Array.from({ length: missing }, () => ticket));
  }
}

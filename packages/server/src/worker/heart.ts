import { type Beaten, type Hello, ROUTES, type StandingOfMachine } from '@tonos/contract';
import type { Bell } from './bell.ts';
import { Refused, type ServerLink } from './server-link.ts';

const LOOK_MS = 1000;
/** Without news. */
const BEAT_EVERY_MS = 5000;
/** With nothing to do, where nobody rings. */
const ASK_EVERY_MS = 1000;
/** After something was wrong with this machine itself, work is tried again. */
const REST_MS = 15_000;

interface UnderWay {
  controller: AbortController;
  sinceMs: number;
  share: number;
  stage: string;
}

interface HeartNeeds {
  link: ServerLink;
  hello: Hello;
  bell: Bell;
  /** Whether it listens to a queue, where the server has one. */
  listens: boolean;
  cacheBytes(): number;
  say(line: string): void;
  /** The server will not hear this machine any more. */
  fatal(error: Error): void;
  stopped: AbortSignal;
}

/** Says to the server that this machine is there and how far it is, and hears what it may do. */
export class Heart {
  private readonly jobs = new Map<number, UnderWay>();
  private standing: StandingOfMachine['state'] = 'unknown';
  private resting: string | null = null;
  private restsUntilMs = 0;
  private hasNews = false;
  private lastMs = 0;
  private isAway = false;
  /** Somebody tells it of work: it need not ask. */
  private isRung = false;
  private couldTake = false;
  private timer: NodeJS.Timeout | undefined;

  constructor(private readonly needs: HeartNeeds) {}

  /** Whether work may be asked for. */
  get mayTake(): boolean {
    return this.standing === 'in' && performance.now() >= this.restsUntilMs;
  }

  /** Says hello until the server has heard it. @returns the queue that rings */
  async begin(): Promise<string | null> {
    const { link, stopped } = this.needs;
    const { queue } = await link.insist(() => this.greet(), stopped);
    this.isRung = queue !== null && this.needs.listens;
    this.later();
    return queue;
  }

  add(fence: number): AbortSignal {
    const controller = new AbortController();
    this.jobs.set(fence, { controller, sinceMs: performance.now(), share: 0, stage: '' });
    return controller.signal;
  }

  progress(fence: number, share: number, stage: string): void {
    const job = this.jobs.get(fence);
    if (!job) return;
    Object.assign(job, { share, stage });
    // what is done in a moment says so itself: a word before that would be a call for nothing
    if (performance.now() - job.sinceMs > LOOK_MS) this.hasNews = true;
  }

  remove(fence: number): void {
    this.jobs.delete(fence);
  }

  /** Something is wrong with this machine: it takes nothing for a while. */
  rest(reason: string): void {
    this.resting = reason;
    this.restsUntilMs = performance.now() + REST_MS;
    this.hasNews = true;
    this.needs.say(`Rests: ${reason}`);
  }

  /** Work went well. */
  rested(): void {
    if (performance.now() < this.restsUntilMs || this.resting === null) return;
    this.resting = null;
    this.hasNews = true;
  }

  /** All work stops, and goes back. */
  async leave(within: AbortSignal): Promise<void> {
    clearTimeout(this.timer);
    for (const { controller } of this.jobs.values()) controller.abort();
    await this.beat(true, within).catch(() => {}); // then its lease runs out
  }

  private later(): void {
    this.timer = setTimeout(async () => {
      await this.look();
      if (!this.needs.stopped.aborted) this.later();
    }, LOOK_MS);
  }

  private async look(): Promise<void> {
    const now = performance.now();
    const asks = this.jobs.size === 0 && !this.isRung;
    if (!this.hasNews && now - this.lastMs < (asks ? ASK_EVERY_MS : BEAT_EVERY_MS)) return;
    const { bell, say, fatal, stopped } = this.needs;
    try {
      this.hasNews = false;
      this.lastMs = now;
      const { ended, waits } = await this.beat(false, AbortSignal.any([stopped, AbortSignal.timeout(BEAT_EVERY_MS)]));
      for (const fence of ended) this.jobs.get(fence)?.controller.abort();
      if (this.isAway) say('The server is back.');
      this.isAway = false;
      // who may take work again waits as one that would
      if (this.mayTake && (waits || !this.couldTake)) bell.ring();
      this.couldTake = this.mayTake;
    } catch (error) {
      if (stopped.aborted) return;
      if (error instanceof Refused && error.status === 401) return fatal(error);
      if (!this.isAway) say(`The server is away: ${reasonOf(error)} What is under way goes on.`);
      this.isAway = true;
      this.hasNews = true;
    }
  }

  private async beat(leaving: boolean, signal: AbortSignal): Promise<Beaten> {
    const { link, hello, cacheBytes } = this.needs;
    const jobs = [...this.jobs].map(([fence, { share, stage }]) => ({ fence, share, stage }));
    const body = { machine: hello.id, resting: this.resting, cacheBytes: cacheBytes(), jobs, leaving };
    const beaten = await link.call(ROUTES.workBeat, { body, signal });
    this.stand(beaten);
    if (beaten.state === 'unknown' && !leaving) await this.greet();
    return beaten;
  }

  private async greet(): Promise<StandingOfMachine> {
    const standing = await this.needs.link.call(ROUTES.workHello, { body: this.needs.hello });
    this.stand(standing);
    return standing;
  }

  private stand({ state, reason }: StandingOfMachine): void {
    if (state !== this.standing && state !== 'unknown') this.needs.say(reason ?? WORDS[state]);
    this.standing = state;
  }
}

const WORDS = { in: 'Takes work.', draining: 'Ends what it has, and takes nothing new.', refused: 'Gets no work.' };

const reasonOf = (error: unknown): string => {
  const { message, cause } = error as Error & { cause?: Error };
  return `${cause?.message || message}.`.replace('..', '.');
};

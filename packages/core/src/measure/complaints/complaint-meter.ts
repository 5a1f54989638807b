import { byRate } from '../../dsp/by-rate.ts';
import type { HalvedBlocks } from '../../dsp/halved-blocks.ts';
import { Halvings, halvingsTo } from '../../dsp/halvings.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { ClickPowers, MOST_SCANNED, MouthClickScan } from '../clicks/mouth-click-scan.ts';
import { type Hum, strongest } from '../hum/find-lines.ts';
import { type LineTables, lineTables } from '../hum/mains-lines.ts';
import { JumpFinder } from './jump-finder.ts';
import { LowMeter } from './low-meter.ts';
import { ThumpMeter, thumpPass } from './thump-meter.ts';

/** Mouth clicks ring below half of this: they are looked for at the lowest rate that is not less. */
const SCAN_HZ = 11000;
/** Thumps that the plosive step takes at its default sensitivity. */
const THUMP_DB = 9;
const plosivePass = byRate((rate) => thumpPass(160, rate));
/** Places that are kept of each kind of click; all are counted. */
const MOST_KEPT = 10_000;
/** Below this apart a burst and a jump are one click. */
const SAME_SECONDS = 0.006;

export interface Heard {
  hum: Hum | undefined;
  /** Level of what lies under 70 Hz, dBFS. */
  lowDb: number | undefined;
  thumps: Span[];
  mouthClicks: Counted;
  digitalClicks: Counted;
}

export interface Span {
  startSeconds: number;
  endSeconds: number;
}

export interface Counted {
  count: number;
  places: Span[];
}

/** Hears what the other meters do not: hum, rumble, thumps, clicks. Of more channels than two the first two. */
export class ComplaintMeter {
  private readonly channels: ChannelComplaints[];
  private readonly clickPowers: ClickPowers;
  private readonly thumps: ThumpMeter;
  /** What waits to be scanned: many small pieces would cost more than what is done with them. */
  private readonly waiting: Block;
  private waitingFrames = 0;

  constructor({ sampleRateHz, channels }: SignalFormat, { rate }: Pick<HalvedBlocks, 'rate'>) {
    const halvings = halvingsTo(rate, SCAN_HZ);
    const scanRate = rate / 2 ** halvings;
    const tables = lineTables(scanRate);
    const count = Math.min(2, channels);
    this.channels = Array.from(
      { length: count },
      () => new ChannelComplaints(sampleRateHz, scanRate, new Halvings(halvings), tables),
    );
    this.waiting = Array.from({ length: count }, () => new Float32Array(MOST_SCANNED));
    this.clickPowers = new ClickPowers(scanRate, count);
    this.thumps = new ThumpMeter({ sampleRateHz: tables.rate, channels: count }, plosivePass(tables.rate));
  }

  /** @param slower the block at a lower rate */
  hear(block: Block, slower: Block): void {
    const { channels } = this;
    channels.forEach((one, c) => {
      one.findJumps(block[c]);
    });
    const scanned = channels.map(({ toScan }, c) => toScan.push(slower[c]));
    const frames = framesOf(scanned);
    for (let from = 0; from < frames; ) {
      const count = Math.min(MOST_SCANNED - this.waitingFrames, frames - from);
      this.waiting.forEach((own, c) => {
        own.set(scanned[c].subarray(from, from + count), this.waitingFrames);
      });
      from += count;
      this.waitingFrames += count;
      if (this.waitingFrames === MOST_SCANNED) this.scan();
    }
  }

  /** Hears what has waited. */
  private scan(): void {
    const { channels } = this;
    const scanned = this.waiting.map((own) => own.subarray(0, this.waitingFrames));
    this.waitingFrames = 0;
    this.clickPowers.hear(scanned).forEach((powers, c) => {
      channels[c].findBursts(powers);
    });
    const lows = channels.map(({ toLow }, c) => toLow.push(scanned[c]));
    channels.forEach(({ low }, c) => {
      low.hear(lows[c]);
    });
    this.thumps.hear(lows);
  }

  conclude(): Heard {
    this.scan();
    const lows = this.channels.map(({ low }) => low.conclude());
    // both sides of one microphone hold the same clicks and thumps
    const most = <T>(all: readonly T[], countOf: (one: T) => number): T =>
      all.reduce((a, b) => (countOf(b) > countOf(a) ? b : a));
    const thumps = this.thumps.conclude().map((own) => own.filter(([, , over]) => over >= THUMP_DB));
    const levels = lows.flatMap(({ lowDb }) => lowDb ?? []);
    return {
      hum: strongest(lows.map(({ hum }) => hum)),
      lowDb: levels.length ? Math.max(...levels) : undefined,
      thumps: most(thumps, ({ length }) => length).map(([startSeconds, endSeconds]) => ({ startSeconds, endSeconds })),
      mouthClicks: most(this.channels, ({ mouth }) => mouth.count).mouth,
      digitalClicks: most(this.channels, ({ digital }) => digital.count).digital,
    };
  }
}

/** One channel at its own rate, at one that is enough for mouth clicks, and at one that is enough for what lies low. */
class ChannelComplaints {
  readonly mouth: Counted = { count: 0, places: [] };
  readonly digital: Counted = { count: 0, places: [] };
  readonly low: LowMeter;
  private readonly jumps: JumpFinder;
  private readonly scan: MouthClickScan;
  readonly toLow: Halvings;

  constructor(
    sampleRateHz: number,
    private readonly scanRate: number,
    readonly toScan: Halvings,
    tables: LineTables,
  ) {
    this.jumps = new JumpFinder(sampleRateHz);
    this.scan = new MouthClickScan(this.scanRate);
    this.toLow = new Halvings(tables.halvings);
    this.low = new LowMeter(tables);
  }

  findJumps(channel: Float32Array): void {
    this.jumps.hear(channel, (startSeconds, endSeconds) => this.noteJump({ startSeconds, endSeconds }));
  }

  findBursts(powers: Float64Array): void {
    this.scan.hear(powers, 0.5, ({ start, end }) => {
      this.noteBurst({ startSeconds: start / this.scanRate, endSeconds: end / this.scanRate });
    });
  }

  /** An impulse rings in the filters that bursts are heard through: whichever is found first, it is what it is. */
  private noteJump(jump: Span): void {
    const { mouth } = this;
    const ringing = mouth.places.findLastIndex((burst) => isSame(burst, jump));
    if (ringing >= 0) {
      mouth.places.splice(ringing, 1);
      mouth.count--;
    }
    count(this.digital, jump);
  }

  private noteBurst(burst: Span): void {
    if (!this.digital.places.some((jump) => isSame(jump, burst))) count(this.mouth, burst);
  }
}

const isSame = (a: Span, b: Span): boolean => Math.abs(a.startSeconds - b.startSeconds) < SAME_SECONDS;

function count(kind: Counted, place: Span): void {
  kind.count++;
  if (kind.places.length < MOST_KEPT) kind.places.push(place);
}

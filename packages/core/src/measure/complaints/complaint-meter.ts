import { cut } from '../../signal/memory.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import { strongest } from '../hum/find-lines.ts';
import { LineTables } from '../hum/mains-lines.ts';
import { ClickFinder } from './click-finder.ts';
import { LowMeter } from './low-meter.ts';

const PIECE_FRAMES = 4096;
/** Thumps that the plosive step takes at its default sensitivity. */
const THUMP_DB = 9;

export interface Heard {
  hum: { mainsHz: number; lines: { harmonic: number; hz: number; excessDb: number }[] } | undefined;
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
  private readonly lows: LowMeter[];
  private readonly clicks: ClickFinder[];

  constructor({ sampleRateHz, channels }: SignalFormat) {
    const heard = Math.min(2, channels);
    const tables = new LineTables(sampleRateHz);
    this.lows = Array.from({ length: heard }, () => new LowMeter(tables));
    this.clicks = Array.from({ length: heard }, () => new ClickFinder(sampleRateHz));
  }

  hear(block: Block): void {
    for (const piece of cut(block, PIECE_FRAMES)) {
      this.lows.forEach((low, c) => {
        low.hear(piece[c]);
        this.clicks[c].hear(piece[c]);
      });
    }
  }

  conclude(): Heard {
    const lows = this.lows.map((low) => low.conclude());
    const counted = (kind: 'mouth' | 'digital'): Counted => {
      // both sides of one microphone hold the same clicks
      const most = this.clicks.reduce((a, b) => (b.counts[kind] > a.counts[kind] ? b : a));
      return { count: most.counts[kind], places: most[kind] };
    };
    const thumps = lows.map(({ thumps: own }) => own.filter(([, , over]) => over >= THUMP_DB));
    return {
      hum: strongest(lows.map(({ hum }) => hum)),
      lowDb: lows.reduce<number | undefined>(
        (most, { lowDb }) => (lowDb !== undefined && lowDb > (most ?? -200) ? lowDb : most),
        undefined,
      ),
      thumps: thumps
        .reduce((a, b) => (b.length > a.length ? b : a))
        .map(([startSeconds, endSeconds]) => ({ startSeconds, endSeconds })),
      mouthClicks: counted('mouth'),
      digitalClicks: counted('digital'),
    };
  }
}

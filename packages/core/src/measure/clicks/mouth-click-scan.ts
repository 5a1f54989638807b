import { byRate } from '../../dsp/by-rate.ts';
import { matchedCascade } from '../../dsp/matched-cascade.ts';
import { butterworth } from '../../dsp/prototypes.ts';
import { dbToPower, powerToDb } from '../../signal/decibels.ts';
import type { Block } from '../../signal/signal.ts';
import { CellPowers } from '../cell-powers.ts';
import { subBlockStart } from '../sub-blocks.ts';

/**
 * Mouth clicks: bursts of 3 to 12 ms that ring at 1.5 to 6 kHz. They are told from consonants by how they rise and decay, by what is loud
 * beside them, and by how much lower sound comes with them. Levels are read in cells of half a millisecond.
 */
const CELLS_PER_SECOND = 2000;
const ms = (value: number): number => Math.round((value * CELLS_PER_SECOND) / 1000);
/** What is looked at ahead of a click's peak. */
export const AHEAD_MS = 57;
const AHEAD = ms(AHEAD_MS);
/** What is kept: more than lies between the earliest cell that is looked at and the newest, 0.3 s, and what comes at once. */
const KEPT = 2048;
const MASK = KEPT - 1;
/** Frames that are taken in one go: half a second of cells at the lowest rate. */
export const MOST_SCANNED = 4096;
const LEAST_POWER = dbToPower(-75);
/** Of a power, silence included. */
const decibels = (power: number): number => powerToDb(power + 1e-20);
const FLOOR_CELLS = ms(20);
const FLOOR_BLOCKS = 150;
const NEAR = ms(16);
const BESIDE = ms(22);
/** What lies so far before a peak, and twice as far, is always beside it: a click rises within 2 ms. */
const SOONEST = ms(8);
const CANDIDATE_DB = 12;
const WEAKER = dbToPower(-CANDIDATE_DB);
const LOW_CELLS = 13;
const PER_CELL = 1 / LOW_CELLS;
/** By so many cells the mean of the low sound lags. */
const LAG = LOW_CELLS >> 1;

const HIGHEST_HZ = 10000;

/** What a burst must be to be taken for a click, in dB and milliseconds. */
const RULES = {
  rise: 2,
  longest: 16,
  length: { base: 2.5, perDb: 0.26 },
  /** High sound over low sound at most this far below. */
  highOverLow: -25,
  voice: { over: 14, beside: 18, burst: 18, slope: 12 },
  pause: { beside: 10, slope: 6 },
  /** Near a voice in a pause: final t, k and p are kept. */
  nearVoice: { over: 20, beforeMs: 200, afterMs: 40, beside: 18 },
  clear: { beside: 18, slope: 12 },
} as const;

const filtersAt = byRate((rate) => {
  const matched = (...parts: Parameters<typeof matchedCascade>[0][]) =>
    parts.flatMap((one) => matchedCascade(one, rate));
  return {
    high: matched(butterworth('high', 4, 1200)),
    low: matched(butterworth('high', 2, 80), butterworth('low', 2, 800)),
    // a low rate cuts by itself
    top: rate > 2 * HIGHEST_HZ ? matched(butterworth('low', 2, HIGHEST_HZ)) : [],
  };
});

export interface MouthClick {
  /** Frames of its extent. */
  start: number;
  end: number;
  /** How far it stands over what lies around, in dB. */
  overDb: number;
  /** Low sound came with it and is part of it. */
  hasLow: boolean;
}

/** What clicks are found by: of each channel the powers of high and of low sound, cell by cell. */
export class ClickPowers {
  private readonly powers: CellPowers;

  constructor(rate: number, channels: number) {
    const { high, low, top } = filtersAt(rate);
    // what lies over the clicks is cut; of the low sound that would take nothing
    this.powers = new CellPowers([[...top, ...high], low], channels, rate, CELLS_PER_SECOND);
  }

  /** @param block at most `MOST_SCANNED` frames */
  hear(block: Block): Float64Array[] {
    return this.powers.hear(block);
  }
}

/** Finds the clicks of one channel. */
export class MouthClickScan {
  /** Powers of high and of low sound by cell, as rings: decibels are asked for only where something stands out. */
  private readonly h = new Float32Array(KEPT);
  private readonly l = new Float32Array(KEPT);
  private readonly lows = new Float64Array(LOW_CELLS);
  private lowSum = 0;
  private lastHigh = 0;
  private readonly floors = new Float32Array(FLOOR_BLOCKS).fill(Number.POSITIVE_INFINITY);
  private blockMost = 0;
  /** Room for what a median is taken of: so few that they are put where they belong one after the other. */
  private readonly sorted = new Float32Array(BESIDE);
  private cells = 0;
  private doneUntil = 0;

  constructor(private readonly rate: number) {}

  /** @param powers by `ClickPowers`; @param sensitivity 0 to 1; half is as the rules are */
  hear(powers: Float64Array, sensitivity: number, found: (click: MouthClick) => void): void {
    const fresh = this.cells;
    this.keep(powers);
    this.judgeFrom(fresh, (0.5 - sensitivity) * 10, found);
  }

  /** Puts cells into the rings. */
  private keep(powers: Float64Array): void {
    const { h, l, lows } = this;
    let { cells, lastHigh, lowSum } = this;
    let at = cells % LOW_CELLS;
    for (let k = 0; k < powers.length; k += 2, cells++) {
      // a millisecond: this half and the one before
      h[cells & MASK] = (powers[k] + lastHigh) / 2;
      lastHigh = powers[k];
      lowSum += powers[k + 1] - lows[at];
      lows[at] = powers[k + 1];
      if (++at === LOW_CELLS) {
        // what rounding leaves of loud ones goes once all are new
        lowSum = 0;
        for (at = LOW_CELLS; at > 0; ) lowSum += lows[--at];
      }
      // the middle of its window lies six cells back
      l[cells < LAG ? 0 : (cells - LAG) & MASK] = lowSum > 0 ? lowSum * PER_CELL : 0;
    }
    this.cells = cells;
    this.lastHigh = lastHigh;
    this.lowSum = lowSum;
  }

  /** Looks for clicks as far ahead of the newest cell as they must lie, each as if that one were the newest. */
  private judgeFrom(fresh: number, stricterDb: number, found: (click: MouthClick) => void): void {
    const { h, l, cells, floors } = this;
    const weaker = dbToPower(-(RULES.pause.beside + stricterDb));
    let { blockMost } = this;
    let blockEnd = FLOOR_CELLS * (Math.floor(fresh / FLOOR_CELLS) + 1);
    for (let newest = fresh; newest < cells; newest++) {
      const low = l[newest < LAG ? 0 : (newest - LAG) & MASK];
      if (low > blockMost) blockMost = low;
      if (newest + 1 === blockEnd) {
        floors[(blockEnd / FLOOR_CELLS - 1) % FLOOR_BLOCKS] = blockMost;
        blockMost = 0;
        blockEnd += FLOOR_CELLS;
      }
      const at = newest - AHEAD;
      const power = h[at & MASK];
      // no click can be told that soon after others as loud: most cells are sorted out by two
      const most = power * weaker;
      if (h[(at - SOONEST) & MASK] > most || h[(at - 2 * SOONEST) & MASK] > most) continue;
      if (power < LEAST_POWER || h[(at - 1) & MASK] >= power || h[(at + 1) & MASK] > power) continue;
      if (at < AHEAD || at < this.doneUntil) continue;
      const click = this.judge(at, stricterDb);
      if (!click) continue;
      this.doneUntil = at + 2;
      found(click);
    }
    this.blockMost = blockMost;
  }

  /** @param at a cell that is louder than those beside it */
  private judge(at: number, stricterDb: number): MouthClick | undefined {
    const { h } = this;
    const power = h[at & MASK];
    for (let d = 2; d <= NEAR; d++) if (h[(at - d) & MASK] >= power || h[(at + d) & MASK] > power) return undefined;
    if (!this.standsOver(at, power)) return undefined;
    const peak = decibels(power);
    let base = this.median(this.h, at - ms(3) - BESIDE, at - ms(3));
    if (peak - base < CANDIDATE_DB) return undefined;
    let [start, end] = this.extent(at, base);
    const [before, after] = [base, this.median(this.h, end + ms(2), end + ms(2) + BESIDE)];
    base = Math.max(before, after);
    const over = peak - base;
    if (over < CANDIDATE_DB) return undefined;
    [start, end] = this.extent(at, base);
    const length = (end - start) / ms(1);
    const { rise, longest, length: longer, highOverLow } = RULES;
    if (length > Math.min(longest, longer.base + longer.perDb * over) || (at - start) / ms(1) > rise) return undefined;
    const lowInside = this.most(this.l, start, end);
    const highOver = peak - lowInside;
    if (highOver < highOverLow) return undefined;
    const margin = ms(2);
    const beside =
      peak -
      Math.max(
        this.most(this.h, start - margin - BESIDE, start - margin),
        this.most(this.h, end + margin, end + margin + BESIDE),
      );
    const lowBefore = this.median(this.l, start - margin - BESIDE, start - margin);
    const lowAfter = this.median(this.l, end + margin, end + margin + BESIDE);
    const isClick = this.accepts({
      at,
      over,
      beside: beside - stricterDb,
      slope: Math.abs(after - before),
      lowBefore,
      lowAfter,
    });
    if (!isClick) return undefined;
    return {
      start: subBlockStart(start, this.rate, CELLS_PER_SECOND),
      end: subBlockStart(end, this.rate, CELLS_PER_SECOND),
      overDb: over,
      hasLow: lowInside - Math.max(lowBefore, lowAfter) >= 6 && highOver > -6,
    };
  }

  private accepts(seen: {
    at: number;
    over: number;
    beside: number;
    slope: number;
    lowBefore: number;
    lowAfter: number;
  }): boolean {
    const { at, over, beside, slope, lowBefore, lowAfter } = seen;
    const { voice, pause, nearVoice, clear } = RULES;
    const floor = this.floor();
    if (Math.max(lowBefore, lowAfter) > floor + voice.over)
      return beside >= voice.beside && over >= voice.burst && slope <= voice.slope;
    const loud = floor + nearVoice.over;
    const near =
      this.most(this.l, at - ms(nearVoice.beforeMs), at) > loud ||
      this.most(this.l, at, at + ms(nearVoice.afterMs)) > loud;
    const isClear = beside >= clear.beside;
    return beside >= (near ? nearVoice.beside : pause.beside) && slope <= (isClear ? clear.slope : pause.slope);
  }

  /** Whether half of what lies before a peak is weaker by so much: most are sorted out here, without sorting anything. */
  private standsOver(at: number, power: number): boolean {
    const { h } = this;
    const weak = power * WEAKER;
    let count = 0;
    for (let k = at - ms(3) - BESIDE; k < at - ms(3); k++) if (h[k & MASK] <= weak) count++;
    return count > BESIDE >> 1;
  }

  /** The floor of low sound: the smallest of the maxima over 20 ms, of the last 3 s, in dB. */
  private floor(): number {
    let least = Number.POSITIVE_INFINITY;
    for (const one of this.floors) if (one < least) least = one;
    return decibels(least);
  }

  /** Cells that stand 6 dB over the base round a peak. */
  private extent(at: number, base: number): [start: number, end: number] {
    let start = at;
    let end = at + 1;
    const { h } = this;
    const stands = dbToPower(base + 6);
    while (start > at - 2 * NEAR && h[(start - 1) & MASK] > stands) start--;
    while (end < at + 2 * NEAR && h[end & MASK] > stands) end++;
    return [start, end];
  }

  private most(values: Float32Array, from: number, to: number): number {
    let most = 0;
    for (let k = from; k < to; k++) if (values[k & MASK] > most) most = values[k & MASK];
    return decibels(most);
  }

  private median(values: Float32Array, from: number, to: number): number {
    const { sorted } = this;
    const count = to - from;
    for (let k = 0; k < count; k++) {
      const value = values[(from + k) & MASK];
      let at = k;
      for (; at > 0 && sorted[at - 1] > value; at--) sorted[at] = sorted[at - 1];
      sorted[at] = value;
    }
    return decibels(sorted[count >> 1]);
  }
}

import { FilterCascade } from '../../dsp/filter-cascade.ts';
import { matchedCascade } from '../../dsp/matched-cascade.ts';
import { butterworth } from '../../dsp/prototypes.ts';
import { powerToDb } from '../../signal/decibels.ts';
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
/** What is kept: the floor of low sound looks back over 3 s. */
const KEPT = 8192;
const LEAST_DB = -75;
const FLOOR_CELLS = ms(20);
const FLOOR_BLOCKS = 150;
const NEAR = ms(16);
const BESIDE = ms(22);
const CANDIDATE_DB = 12;
const LOW_CELLS = 13;

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

export interface MouthClick {
  /** Frames of its extent. */
  start: number;
  end: number;
  /** How far it stands over what lies around, in dB. */
  overDb: number;
  /** Low sound came with it and is part of it. */
  hasLow: boolean;
}

export class MouthClickScan {
  private readonly high: FilterCascade;
  private readonly low: FilterCascade;
  /** dB by cell, as rings. */
  private readonly h = new Float32Array(KEPT).fill(-200);
  private readonly l = new Float32Array(KEPT).fill(-200);
  private readonly lowEnergies = new Float64Array(LOW_CELLS);
  private lastHigh = 0;
  private readonly floors = new Float32Array(FLOOR_BLOCKS).fill(Number.POSITIVE_INFINITY);
  private blockMost = -200;
  private cells = 0;
  private frame = 0;
  private cellEnd: number;
  private energies = { high: 0, low: 0 };
  private doneUntil = 0;

  constructor(private readonly rate: number) {
    const top = Math.min(10000, 0.45 * rate);
    this.high = new FilterCascade(
      [...matchedCascade(butterworth('high', 4, 1200), rate), ...matchedCascade(butterworth('low', 2, top), rate)],
      1,
    );
    this.low = new FilterCascade(
      [...matchedCascade(butterworth('high', 2, 80), rate), ...matchedCascade(butterworth('low', 2, 800), rate)],
      1,
    );
    this.cellEnd = subBlockStart(1, rate, CELLS_PER_SECOND);
  }

  /** @param sensitivity 0 to 1; half is as the rules are */
  push(samples: Float32Array, sensitivity: number, found: (click: MouthClick) => void): void {
    const high = samples.slice();
    const low = samples.slice();
    this.high.process([high]);
    this.low.process([low]);
    for (let i = 0; i < samples.length; i++) {
      this.energies.high += high[i] * high[i];
      this.energies.low += low[i] * low[i];
      if (++this.frame < this.cellEnd) continue;
      this.endCell();
      const at = this.cells - 1 - AHEAD;
      if (at < AHEAD || at < this.doneUntil) continue;
      const click = this.judge(at, (0.5 - sensitivity) * 10);
      if (!click) continue;
      this.doneUntil = at + 2;
      found(click);
    }
  }

  private endCell(): void {
    const { cells, energies } = this;
    const frames = this.cellEnd - subBlockStart(cells, this.rate, CELLS_PER_SECOND);
    const power = energies.high / frames;
    // a millisecond: this half and the one before
    this.h[cells % KEPT] = powerToDb((power + this.lastHigh) / 2 + 1e-20);
    this.lastHigh = power;
    this.lowEnergies[cells % LOW_CELLS] = energies.low / frames;
    let sum = 0;
    for (let k = 0; k < LOW_CELLS; k++) sum += this.lowEnergies[k];
    // the middle of its window lies six cells back
    const middle = Math.max(0, cells - (LOW_CELLS >> 1));
    this.l[middle % KEPT] = powerToDb(sum / LOW_CELLS + 1e-20);
    this.l[cells % KEPT] = this.l[middle % KEPT];
    this.blockMost = Math.max(this.blockMost, this.l[middle % KEPT]);
    this.cells++;
    energies.high = 0;
    energies.low = 0;
    this.cellEnd = subBlockStart(this.cells + 1, this.rate, CELLS_PER_SECOND);
    if (this.cells % FLOOR_CELLS) return;
    this.floors[(this.cells / FLOOR_CELLS - 1) % FLOOR_BLOCKS] = this.blockMost;
    this.blockMost = -200;
  }

  private high_(cell: number): number {
    return this.h[cell & (KEPT - 1)];
  }

  private judge(at: number, stricterDb: number): MouthClick | undefined {
    const peak = this.high_(at);
    if (peak < LEAST_DB) return undefined;
    for (let d = 1; d <= NEAR; d++) if (this.high_(at - d) >= peak || this.high_(at + d) > peak) return undefined;
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

  /** The floor of low sound: the smallest of the maxima over 20 ms, of the last 3 s. */
  private floor(): number {
    let least = Number.POSITIVE_INFINITY;
    for (const one of this.floors) if (one < least) least = one;
    return least;
  }

  /** Cells that stand 6 dB over the base round a peak. */
  private extent(at: number, base: number): [start: number, end: number] {
    let start = at;
    let end = at + 1;
    while (start > at - 2 * NEAR && this.high_(start - 1) > base + 6) start--;
    while (end < at + 2 * NEAR && this.high_(end) > base + 6) end++;
    return [start, end];
  }

  private most(values: Float32Array, from: number, to: number): number {
    let most = -200;
    for (let k = from; k < to; k++) if (values[k & (KEPT - 1)] > most) most = values[k & (KEPT - 1)];
    return most;
  }

  private median(values: Float32Array, from: number, to: number): number {
    const some = new Float32Array(to - from);
    for (let k = from; k < to; k++) some[k - from] = values[k & (KEPT - 1)];
    return some.sort()[some.length >> 1];
  }
}

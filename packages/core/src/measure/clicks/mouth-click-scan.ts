import { byRate } from '../../dsp/by-rate.ts';
import { FilterCascade } from '../../dsp/filter-cascade.ts';
import { matchedCascade } from '../../dsp/matched-cascade.ts';
import { butterworth } from '../../dsp/prototypes.ts';
import { dbToPower, powerToDb } from '../../signal/decibels.ts';
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
const LEAST_POWER = dbToPower(-75);
/** Of a power, silence included. */
const decibels = (power: number): number => powerToDb(power + 1e-20);
const FLOOR_CELLS = ms(20);
const FLOOR_BLOCKS = 150;
const NEAR = ms(16);
const BESIDE = ms(22);
const CANDIDATE_DB = 12;
const WEAKER = dbToPower(-CANDIDATE_DB);
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

const filtersAt = byRate((rate) => {
  const [pass, cutHigh] = [butterworth('high', 4, 1200), butterworth('low', 2, Math.min(10000, 0.45 * rate))];
  const [cutLow, voice] = [butterworth('high', 2, 80), butterworth('low', 2, 800)];
  return {
    high: [...matchedCascade(pass, rate), ...matchedCascade(cutHigh, rate)],
    low: [...matchedCascade(cutLow, rate), ...matchedCascade(voice, rate)],
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

export class MouthClickScan {
  private readonly high: FilterCascade;
  private readonly low: FilterCascade;
  /** Powers of high and of low sound by cell, as rings: decibels are asked for only where something stands out. */
  private readonly h = new Float32Array(KEPT);
  private readonly l = new Float32Array(KEPT);
  private readonly lowEnergies = new Float64Array(LOW_CELLS);
  private lastHigh = 0;
  private readonly floors = new Float32Array(FLOOR_BLOCKS).fill(Number.POSITIVE_INFINITY);
  private blockMost = 0;
  private cells = 0;
  private frame = 0;
  private cellEnd: number;
  private cellStart = 0;
  private highEnergy = 0;
  private lowEnergy = 0;
  private highSamples = new Float32Array(0);
  private lowSamples = new Float32Array(0);
  private doneUntil = 0;

  constructor(private readonly rate: number) {
    const { high, low } = filtersAt(rate);
    this.high = new FilterCascade(high, 1);
    this.low = new FilterCascade(low, 1);
    this.cellEnd = subBlockStart(1, rate, CELLS_PER_SECOND);
  }

  /** @param sensitivity 0 to 1; half is as the rules are */
  push(samples: Float32Array, sensitivity: number, found: (click: MouthClick) => void): void {
    if (this.highSamples.length < samples.length) {
      this.highSamples = new Float32Array(samples.length);
      this.lowSamples = new Float32Array(samples.length);
    }
    const high = this.highSamples.subarray(0, samples.length);
    const low = this.lowSamples.subarray(0, samples.length);
    high.set(samples);
    low.set(samples);
    this.high.process([high]);
    this.low.process([low]);
    let { highEnergy, lowEnergy } = this;
    for (let from = 0; from < samples.length; ) {
      const to = Math.min(samples.length, from + this.cellEnd - this.frame);
      for (let i = from; i < to; i++) {
        highEnergy += high[i] * high[i];
        lowEnergy += low[i] * low[i];
      }
      this.frame += to - from;
      from = to;
      if (this.frame < this.cellEnd) break;
      this.endCell(highEnergy, lowEnergy);
      highEnergy = 0;
      lowEnergy = 0;
      const at = this.cells - 1 - AHEAD;
      if (at < AHEAD || at < this.doneUntil) continue;
      const click = this.judge(at, (0.5 - sensitivity) * 10);
      if (!click) continue;
      this.doneUntil = at + 2;
      found(click);
    }
    this.highEnergy = highEnergy;
    this.lowEnergy = lowEnergy;
  }

  private endCell(highEnergy: number, lowEnergy: number): void {
    const { cells, cellStart, cellEnd, h, l, lowEnergies } = this;
    const frames = cellEnd - cellStart;
    const power = highEnergy / frames;
    // a millisecond: this half and the one before
    h[cells & (KEPT - 1)] = (power + this.lastHigh) / 2;
    this.lastHigh = power;
    lowEnergies[cells % LOW_CELLS] = lowEnergy / frames;
    let sum = 0;
    for (let k = 0; k < LOW_CELLS; k++) sum += lowEnergies[k];
    // the middle of its window lies six cells back
    const low = sum / LOW_CELLS;
    l[Math.max(0, cells - (LOW_CELLS >> 1)) & (KEPT - 1)] = low;
    l[cells & (KEPT - 1)] = low;
    if (low > this.blockMost) this.blockMost = low;
    this.cells++;
    this.cellStart = cellEnd;
    this.cellEnd = subBlockStart(this.cells + 1, this.rate, CELLS_PER_SECOND);
    if (this.cells % FLOOR_CELLS) return;
    this.floors[(this.cells / FLOOR_CELLS - 1) % FLOOR_BLOCKS] = this.blockMost;
    this.blockMost = 0;
  }

  private judge(at: number, stricterDb: number): MouthClick | undefined {
    const { h } = this;
    const power = h[at & (KEPT - 1)];
    if (power < LEAST_POWER) return undefined;
    for (let d = 1; d <= NEAR; d++)
      if (h[(at - d) & (KEPT - 1)] >= power || h[(at + d) & (KEPT - 1)] > power) return undefined;
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
    for (let k = at - ms(3) - BESIDE; k < at - ms(3); k++) if (h[k & (KEPT - 1)] <= weak) count++;
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
    while (start > at - 2 * NEAR && h[(start - 1) & (KEPT - 1)] > stands) start--;
    while (end < at + 2 * NEAR && h[end & (KEPT - 1)] > stands) end++;
    return [start, end];
  }

  private most(values: Float32Array, from: number, to: number): number {
    let most = 0;
    for (let k = from; k < to; k++) if (values[k & (KEPT - 1)] > most) most = values[k & (KEPT - 1)];
    return decibels(most);
  }

  private median(values: Float32Array, from: number, to: number): number {
    const some = new Float32Array(to - from);
    for (let k = from; k < to; k++) some[k - from] = values[k & (KEPT - 1)];
    return decibels(some.sort()[some.length >> 1]);
  }
}

import { matchedCascade } from '../../dsp/matched-cascade.ts';
import { butterworth } from '../../dsp/prototypes.ts';
import type { Section } from '../../dsp/section.ts';
import { powerToDb } from '../../signal/decibels.ts';
import { cut } from '../../signal/memory.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import { CellPowers, MOST_AT_ONCE } from '../cell-powers.ts';

const PER_SECOND = 100;
/** The voice's usual low sound: reached by one in ten of the moments in which there is any. */
const USUAL_SHARE = 0.9;
const LEAST_DB = -60;
/** In a thump the low sound outweighs all the rest by this. */
const OUTWEIGHS_DB = 3;
/** Weaker than this over the usual is kept by no setting. */
const LEAST_OVER_DB = 3;
/** A thump is seen a little before and after it is over the limit. */
const AROUND = 2;
const LONGEST = 0.4 * PER_SECOND;

/** Steps to a decibel. */
const FINE = 100;

/** Levels in hundredths of a dB, ever more of them: 0.7 MB an hour. */
class Levels {
  private held = new Int16Array(1024);
  private count = 0;

  add(db: number): void {
    if (this.count === this.held.length) {
      const twice = new Int16Array(2 * this.held.length);
      twice.set(this.held);
      this.held = twice;
    }
    this.held[this.count++] = Math.round(FINE * db);
  }

  get values(): Int16Array {
    return this.held.subarray(0, this.count);
  }
}

/** The low-pass that lets thumps through. */
export const thumpPass = (frequencyHz: number, sampleRateHz: number): Section[] =>
  matchedCascade(butterworth('low', 4, frequencyHz), sampleRateHz);

/** Finds thumps: short moments in which the sound under a frequency is far over its usual level and outweighs what lies above. */
export class ThumpMeter {
  private readonly powers: CellPowers;
  private readonly channels: { lows: Levels; rests: Levels }[];

  /** @param lowPass what thumps lie under, by `thumpPass` */
  constructor({ sampleRateHz, channels }: SignalFormat, lowPass: readonly Section[]) {
    this.powers = new CellPowers([lowPass, []], channels, sampleRateHz, PER_SECOND);
    this.channels = Array.from({ length: channels }, () => ({ lows: new Levels(), rests: new Levels() }));
  }

  hear(block: Block): void {
    for (const piece of cut(block, MOST_AT_ONCE))
      this.powers.hear(piece).forEach((found, c) => {
        const { lows, rests } = this.channels[c];
        for (let k = 0; k < found.length; k += 2) {
          lows.add(powerToDb(found[k] + 1e-20));
          rests.add(powerToDb(Math.max(0, found[k + 1] - found[k]) + 1e-20));
        }
      });
  }

  /** Thumps by channel: start, end, how far over the voice's usual low sound in dB. */
  conclude(): [startSeconds: number, endSeconds: number, overDb: number][][] {
    return this.channels.map(({ lows, rests }) => this.thumpsOf(lows.values, rests.values));
  }

  private thumpsOf(lows: Int16Array, rests: Int16Array): [number, number, number][] {
    const heard = lows.filter((level) => level > LEAST_DB * FINE).sort();
    if (!heard.length) return [];
    const usual = heard[Math.min(heard.length - 1, Math.floor(USUAL_SHARE * heard.length))];
    const thumps: [number, number, number][] = [];
    for (let i = 0; i < lows.length; i++) {
      if (lows[i] < usual + LEAST_OVER_DB * FINE || lows[i] < rests[i] + OUTWEIGHS_DB * FINE) continue;
      let end = i;
      let over = 0;
      while (end < lows.length && lows[end] >= usual) {
        over = Math.max(over, lows[end] - usual);
        end++;
      }
      const seconds = (moment: number) => Math.max(0, moment) / PER_SECOND;
      if (end - i <= LONGEST)
        thumps.push([seconds(i - AROUND), seconds(end + AROUND), Math.round((over * 10) / FINE) / 10]);
      i = end;
    }
    return thumps;
  }
}

import { FilterCascade } from '../../dsp/filter-cascade.ts';
import { matchedCascade } from '../../dsp/matched-cascade.ts';
import { butterworth } from '../../dsp/prototypes.ts';
import { powerToDb } from '../../signal/decibels.ts';
import { type Block, copyBlock, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { subBlockStart } from '../sub-blocks.ts';

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

/** Finds thumps: short moments in which the sound under a frequency is far over its usual level and outweighs what lies above. */
export class ThumpMeter {
  private readonly lowPass: FilterCascade;
  private readonly lows: Levels[];
  private readonly wholes: Levels[];
  private readonly energies: Float64Array;
  private readonly wholeEnergies: Float64Array;
  private frame = 0;
  private index = 0;
  private end: number;

  constructor(
    private readonly format: SignalFormat,
    frequencyHz: number,
  ) {
    const { sampleRateHz, channels } = format;
    this.lowPass = new FilterCascade(matchedCascade(butterworth('low', 4, frequencyHz), sampleRateHz), channels);
    this.lows = Array.from({ length: channels }, () => new Levels());
    this.wholes = this.lows.map(() => new Levels());
    this.energies = new Float64Array(channels);
    this.wholeEnergies = new Float64Array(channels);
    this.end = subBlockStart(1, sampleRateHz, PER_SECOND);
  }

  hear(block: Block): void {
    const low = copyBlock(block);
    this.lowPass.process(low);
    const frames = framesOf(block);
    for (let start = 0; start < frames; ) {
      const end = Math.min(frames, start + this.end - this.frame);
      for (let c = 0; c < block.length; c++) {
        const [under, whole] = [low[c], block[c]];
        let lowEnergy = 0;
        let energy = 0;
        for (let i = start; i < end; i++) {
          lowEnergy += under[i] * under[i];
          energy += whole[i] * whole[i];
        }
        this.energies[c] += lowEnergy;
        this.wholeEnergies[c] += energy;
      }
      this.frame += end - start;
      start = end;
      if (this.frame === this.end) this.endMoment();
    }
  }

  /** Thumps by channel: start, end, how far over the voice's usual low sound in dB. */
  conclude(): [startSeconds: number, endSeconds: number, overDb: number][][] {
    return this.lows.map((lows, c) => this.thumpsOf(lows.values, this.wholes[c].values));
  }

  private endMoment(): void {
    const rate = this.format.sampleRateHz;
    const frames = this.end - subBlockStart(this.index, rate, PER_SECOND);
    this.lows.forEach((lows, c) => {
      lows.add(powerToDb(this.energies[c] / frames + 1e-20));
      this.wholes[c].add(powerToDb(Math.max(0, this.wholeEnergies[c] - this.energies[c]) / frames + 1e-20));
    });
    this.energies.fill(0);
    this.wholeEnergies.fill(0);
    this.index++;
    this.end = subBlockStart(this.index + 1, rate, PER_SECOND);
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

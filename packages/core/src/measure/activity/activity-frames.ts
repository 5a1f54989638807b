import { powerToDb } from '../../signal/decibels.ts';

/** Bands in which a voice is told from a room: edges in Hz. The last one is for s sounds only and has no part in the telling. */
export const BAND_EDGES_HZ = [
  100, 135, 180, 240, 320, 430, 570, 750, 1000, 1320, 1740, 2300, 3000, 4000, 5000, 6300, 8000, 10000,
] as const;
export const BANDS = BAND_EDGES_HZ.length - 1;
export const VOICE_BANDS = BANDS - 1;
export const FRAMES_PER_SECOND = 50;

/** Band levels are kept in steps of 0.6 dB from -140 dB up. */
export const STEP_DB = 0.6;
export const BOTTOM_DB = -140;
/** The power of full scale that a kept band level stands for. */
export const BAND_POWERS = Float64Array.from({ length: 256 }, (_, step) => 10 ** ((step * STEP_DB + BOTTOM_DB) / 10));
/** Powers are kept in steps of 1/256 dB; 0 stands for none. */
const FINE = 256;
const FINE_BOTTOM_DB = -200;

const fineOf = (power: number): number =>
  power > 1e-14 ? Math.max(1, Math.min(65535, Math.round((powerToDb(power) - FINE_BOTTOM_DB) * FINE))) : 0;
const dbOf = (fine: number): number => fine / FINE + FINE_BOTTOM_DB;

/**
 * What is kept of every 20 ms of a signal: levels of 17 bands, its power with and without a constant offset. 21 bytes a frame,
 * 3.8 MB an hour.
 */
export class ActivityFrames {
  count = 0;

  /** @param voiceBands how many bands the signal's rate holds, of those in which a voice is told from a room */
  constructor(readonly voiceBands: number) {}

  bands = new Uint8Array(BANDS * 4096);
  private moving = new Uint16Array(4096);
  private whole = new Uint16Array(4096);

  /** @param bandPowers of full scale, by band; @param moving power about the mean; @param whole with the mean */
  add(bandPowers: Float64Array, scale: number, moving: number, whole: number): void {
    if (this.count === this.moving.length) this.grow();
    const at = this.count * BANDS;
    for (let b = 0; b < BANDS; b++) {
      const db = powerToDb(bandPowers[b] * scale + 1e-20);
      this.bands[at + b] = Math.max(0, Math.min(255, Math.round((db - BOTTOM_DB) / STEP_DB)));
    }
    this.moving[this.count] = fineOf(moving);
    this.whole[this.count++] = fineOf(whole);
  }

  /** Whether anything moves in a frame: digital silence and a bare offset do not. */
  sounds(i: number): boolean {
    return this.moving[i] > 0;
  }

  /** Level about the mean, in dBFS; meaningless where nothing sounds. */
  levelDb(i: number): number {
    return dbOf(this.moving[i]);
  }

  power(i: number): number {
    return this.moving[i] ? 10 ** (dbOf(this.moving[i]) / 10) : 0;
  }

  /** With the offset: what a level meter reads. */
  wholePower(i: number): number {
    return this.whole[i] ? 10 ** (dbOf(this.whole[i]) / 10) : 0;
  }

  private grow(): void {
    const twice = <T extends Uint8Array | Uint16Array>(from: T, to: T): T => {
      to.set(from);
      return to;
    };
    this.bands = twice(this.bands, new Uint8Array(this.bands.length * 2));
    this.moving = twice(this.moving, new Uint16Array(this.moving.length * 2));
    this.whole = twice(this.whole, new Uint16Array(this.whole.length * 2));
  }
}

/** Frames from `start` up to, not with, `end`. */
export interface Run {
  start: number;
  end: number;
}

/** Decibels and back. Levels in dBFS are relative to a full scale of 1. */

export const dbToGain = (db: number): number => 10 ** (db / 20);

export const gainToDb = (gain: number): number => 20 * Math.log10(gain);
const DB_PER_NEPER = 10 / Math.log(10);

/** By the natural logarithm: in engines it is far quicker than that of base 10, and right to 1e-14. */
export const powerToDb = (power: number): number => DB_PER_NEPER * Math.log(power);
export const dbToPower = (db: number): number => 10 ** (db / 10);

/** A level as it is printed: null where there is none (the level of silence), never minus infinity. */
export const levelOrNull = (db: number): number | null => (Number.isFinite(db) ? db : null);

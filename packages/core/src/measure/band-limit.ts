import type { ActivityFigures } from './activity/activity.ts';

/** Speech loses about 40 dB to 6 kHz; a band edge loses far more. */
const DEAD_DB = 55;
const LEAST_EDGE_HZ = 2000;

/**
 * A telephone line passes 300 to 3400 Hz (ITU-T G.712). Stored at 8 kHz nothing above is there to be missed: the line is known by its lower end, at
 * which the fundamental of every voice is lost.
 */
const TELEPHONE = {
  upperHz: 3400,
  above: 4000,
  /** What is left under 300 Hz, by band from 100 Hz up: so far under the loudest band at least. */
  lowDb: [35, 18, 12],
  /** The loudest band lies above it: a high voice has its fundamental there. */
  loudestAboveHz: 300,
  /** From the last band that it passes to the next. */
  fallDb: 10,
} as const;

/** Where the voice of a recording ends that was cut off above, in Hz; undefined where it has all that its rate holds. */
export function upperEdgeHz({ speechBandsDb: bands, bandEdgesHz }: ActivityFigures): number | undefined {
  if (!bands?.length) return undefined;
  const loudest = Math.max(...bands);
  const { upperHz, above, lowDb, loudestAboveHz, fallDb } = TELEPHONE;
  const beyond = bandEdgesHz.findIndex((hz) => hz >= above);
  const lacksLow =
    lowDb.every((db, b) => bands[b] < loudest - db) && bandEdgesHz[bands.indexOf(loudest)] > loudestAboveHz;
  const endsThere = bands.length <= beyond || bands[beyond] < bands[beyond - 1] - fallDb;
  if (lacksLow && endsThere) return upperHz;
  const dead = bands.findIndex(
    (_, b) => bandEdgesHz[b] > LEAST_EDGE_HZ && bands.slice(b).every((rest) => rest < loudest - DEAD_DB),
  );
  return dead < 0 ? undefined : bandEdgesHz[dead];
}

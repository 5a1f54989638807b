import { powerToDb } from '../../signal/decibels.ts';
import { type FramePair, findLines, type Hum, quietPairs, strongest } from '../hum/find-lines.ts';
import { type LineTables, MAINS_HZ, MainsLines } from '../hum/mains-lines.ts';
import { LevelClasses } from '../level-classes.ts';

/** What goes on low in one channel: hum between words and rumble, at about 6 kHz. */

/** Frames are read where they are among the quietest so far. */
const QUIET_SHARE = 0.15;
const SILENT_DB = -130;
const MOST_PAIRS = 600;
/** Lines are read while so many of the last quiet frames show some: a voice's own now and then do. */
const LEAST_SHARE = 0.5;
const REMEMBERED_FRAMES = 60;
const ONE_OF = 3;
/** So many pairs are needed, or it was chance. */
const LEAST_PAIRS = 16;
/** What hums so high is heard lower as well. */
const HARMONICS_HEARD = 20;
const LOW_EVERY = 10;
/** Rumble goes on in pauses too: what is low in a voice does not. */
const LOW_SHARE = 0.25;

export class LowMeter {
  private readonly lines: MainsLines;
  private readonly levels = new LevelClasses();
  /** Of what lies under 70 Hz. */
  private readonly lows = new LevelClasses();
  private readonly pairs: FramePair[][] = MAINS_HZ.map(() => []);
  private last: (FramePair['first'] | undefined)[] = [];
  private frames = 0;
  private quietFrames = 0;
  private share = 1;

  constructor(tables: LineTables) {
    this.lines = new MainsLines(tables);
  }

  /** @param samples at the tables' rate */
  hear(samples: Float32Array): void {
    this.lines.push(samples, () => this.endFrame());
  }

  conclude(): { hum: Hum | undefined; lowDb: number | undefined } {
    const found = this.pairs.map((pairs, mains) =>
      pairs.length < LEAST_PAIRS ? undefined : findLines(quietPairs(pairs), mains),
    );
    return { hum: strongest(found), lowDb: this.lows.at(LOW_SHARE) };
  }

  private endFrame(): void {
    const { lines, last } = this;
    this.last = [];
    const db = powerToDb(lines.meanSquare + 1e-14);
    if (db < SILENT_DB) return;
    this.levels.add(db);
    if (this.frames++ % LOW_EVERY === 0) this.lows.add(powerToDb(lines.lowPower() + 1e-14));
    if (db > this.levels.at(QUIET_SHARE)! + 1) return;
    // where hum is not likely, one of some frames stands for all
    const each = this.share < LEAST_SHARE ? ONE_OF : 1;
    if (this.quietFrames++ % each) return;
    const standing = MAINS_HZ.map((_, mains) => lines.standsOut(mains));
    this.share += (each * (Number(standing.some(Boolean)) - this.share)) / REMEMBERED_FRAMES;
    // the values of all lines are worth their cost only where it is
    if (this.share < LEAST_SHARE) return;
    this.last = standing.map((stands, mains) => (stands ? lines.read(mains, HARMONICS_HEARD) : undefined));
    this.last.forEach((second, mains) => {
      const first = last[mains];
      if (!first || !second) return;
      const pairs = this.pairs[mains];
      pairs.push({ first, second });
      if (pairs.length > MOST_PAIRS) this.pairs[mains] = quietPairs(pairs);
    });
  }
}

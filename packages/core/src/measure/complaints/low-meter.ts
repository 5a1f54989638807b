import { type FramePair, findLines, type Hum, quietPairs, strongest } from '../hum/find-lines.ts';
import { type LineTables, MAINS_HZ, MainsLines } from '../hum/mains-lines.ts';
import { ThumpMeter } from './thump-meter.ts';

/** What lies low in one channel: hum between words, rumble, thumps. All of it at about 6 kHz. */

/** Frames are read where they are among the quietest so far. */
const QUIET_SHARE = 0.15;
const CLASSES = 140;
const MOST_PAIRS = 600;
/** Of the quiet frames that were looked at so many must show lines, or it was chance. */
const LEAST_SHARE = 0.25;
const LOW_EVERY = 5;
/** Rumble goes on in pauses too: what is low in a voice does not. */
const LOW_SHARE = 0.25;
const PLOSIVE_HZ = 160;

export class LowMeter {
  private readonly lines: MainsLines;
  private readonly thumps: ThumpMeter;
  private readonly classes = new Uint32Array(CLASSES);
  private readonly pairs: FramePair[][] = MAINS_HZ.map(() => []);
  private last: (FramePair['first'] | undefined)[] = [];
  private frames = 0;
  private quiet = 0;
  private humming = 0;
  /** Powers under 70 Hz of every fifth frame, in classes of 1 dB. */
  private readonly lows = new Uint32Array(CLASSES);

  constructor(tables: LineTables) {
    this.lines = new MainsLines(tables);
    this.thumps = new ThumpMeter({ sampleRateHz: tables.rate, channels: 1 }, PLOSIVE_HZ);
  }

  hear(channel: Float32Array): void {
    this.lines.push(
      channel,
      () => this.endFrame(),
      (slow) => this.thumps.hear([slow]),
    );
  }

  conclude(): { hum: Hum | undefined; lowDb: number | undefined; thumps: [number, number, number][] } {
    const enough = this.humming >= LEAST_SHARE * this.quiet;
    const hum = enough ? strongest(this.pairs.map((pairs, mains) => findLines(quietPairs(pairs), mains))) : undefined;
    return { hum, lowDb: classAt(this.lows, LOW_SHARE), thumps: this.thumps.conclude()[0] };
  }

  private endFrame(): void {
    const db = Math.round(10 * Math.log10(this.lines.energy + 1e-14));
    const at = Math.max(0, Math.min(CLASSES - 1, db + CLASSES));
    if (db > -130) this.classes[at]++;
    this.frames++;
    if (this.frames % LOW_EVERY === 0 && db > -130) {
      const low = Math.round(10 * Math.log10(this.lines.lowPower() + 1e-14));
      this.lows[Math.max(0, Math.min(CLASSES - 1, low + CLASSES))]++;
    }
    if (db <= -130 || at > (classAt(this.classes, QUIET_SHARE) ?? 0) + CLASSES) {
      this.last = [];
      return;
    }
    this.quiet++;
    // the two values of a line turned against each other are worth their cost only where something stands out
    const standing = MAINS_HZ.map((_, mains) => this.lines.standsOut(mains));
    if (!standing.some(Boolean)) {
      this.last = [];
      return;
    }
    this.humming++;
    const now = standing.map((stands, mains) => (stands ? this.lines.read(mains) : undefined));
    now.forEach((second, mains) => {
      const first = this.last[mains];
      if (!first || !second) return;
      const pairs = this.pairs[mains];
      pairs.push({ first, second });
      if (pairs.length > MOST_PAIRS) this.pairs[mains] = quietPairs(pairs);
    });
    this.last = now;
  }
}

/** The level that a share of all lies under, in dB. */
function classAt(classes: Uint32Array, share: number): number | undefined {
  const all = classes.reduce((sum, count) => sum + count, 0);
  if (!all) return undefined;
  let at = 0;
  for (let seen = classes[0]; seen <= share * all && at < CLASSES - 1; seen += classes[at]) at++;
  return at - CLASSES;
}

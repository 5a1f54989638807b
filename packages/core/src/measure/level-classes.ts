const CLASSES = 256;
const LOWEST_DB = -200;

/** How often each level came, in classes of 1 dB: what a share of all lies under. The same size for any length. */
export class LevelClasses {
  private readonly counts = new Uint32Array(CLASSES);
  private total = 0;

  add(db: number): void {
    this.counts[Math.max(0, Math.min(CLASSES - 1, Math.round(db - LOWEST_DB)))]++;
    this.total++;
  }

  /** The level of the class that a share of all reaches up to; undefined where there is none. */
  at(share: number): number | undefined {
    if (!this.total) return undefined;
    let at = 0;
    for (let seen = this.counts[0]; seen <= share * this.total && at < CLASSES - 1; seen += this.counts[at]) at++;
    return at + LOWEST_DB;
  }
}

/**
 * Attack and release on a gain reduction in dB: a one-pole that goes 63 % of the way in the attack time when the reduction
 * grows, in the release time when it falls.
 */
export class Ballistics {
  value = 0;
  private attack = 0;
  private release = 0;

  /** @param stepSeconds time between two calls of next() */
  set(attackSeconds: number, releaseSeconds: number, stepSeconds: number): void {
    this.attack = 1 - Math.exp(-stepSeconds / attackSeconds);
    this.release = 1 - Math.exp(-stepSeconds / releaseSeconds);
  }

  next(target: number): number {
    this.value += (target > this.value ? this.attack : this.release) * (target - this.value);
    if (this.value < 1e-9) this.value = 0;
    return this.value;
  }
}

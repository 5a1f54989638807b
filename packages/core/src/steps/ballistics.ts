import { kernels } from '@tonos/kernels';

/**
 * Attack and release on a gain reduction in dB: a one-pole that goes 63 % of the way in the attack time when the reduction
 * grows, in the release time when it falls.
 */
export class Ballistics {
  private value = 0;
  private largest = 0;
  private attack = 0;
  private release = 0;

  /** @param stepSeconds time between two reductions */
  set(attackSeconds: number, releaseSeconds: number, stepSeconds: number): void {
    this.attack = 1 - Math.exp(-stepSeconds / attackSeconds);
    this.release = 1 - Math.exp(-stepSeconds / releaseSeconds);
  }

  /** Reductions that are wanted, lying where kernels read them, become those that there are. */
  readAt(at: number, count: number): void {
    const { follow, peak } = kernels();
    this.value = follow(at, count, this.attack, this.release, this.value);
    this.largest = Math.max(this.largest, peak(at, count));
  }

  /** The largest reduction since it was last asked; what there is now, where none came since. */
  takeLargest(): number {
    const { largest } = this;
    this.largest = this.value;
    return largest;
  }
}

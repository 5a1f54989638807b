/** Frames between two aims. */
export const CONTROL_FRAMES = 8;

/** A value that is aimed anew every 8 samples and moves on straight lines between: gains that are costly to compute, without steps. */
export class StraightLines {
  private phase = 0;
  private slope = 0;

  constructor(private value: number) {}

  /** Whether a new aim is wanted before the next value. */
  get isDue(): boolean {
    return this.phase === 0;
  }

  /** Where the value shall be after the next 8. */
  aim(target: number): void {
    this.slope = (target - this.value) / CONTROL_FRAMES;
  }

  next(): number {
    this.value += this.slope;
    this.phase = (this.phase + 1) % CONTROL_FRAMES;
    return this.value;
  }
}

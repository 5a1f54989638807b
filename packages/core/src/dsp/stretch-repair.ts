/**
 * Walks over one channel in stretches, each with what lies before and after it in reach, and lets them be repaired. Stretches lie on a
 * fixed grid, so the result does not depend on how the samples come. Output lags by `latencyFrames`.
 */
export class StretchRepair {
  readonly latencyFrames: number;
  private readonly held: Float64Array;
  /** The stretch that was decided on last. */
  private readonly ready: Float64Array;
  private filled = 0;

  /**
   * @param stretch frames that are decided on at a time; @param reach frames that are seen on either side
   * @param repair gets reach + stretch + reach frames and changes those of the stretch; or it leaves them and answers what goes out
   * in their place, where the next stretches must still see the original
   */
  constructor(
    private readonly stretch: number,
    private readonly reach: number,
    private readonly repair: (seen: Float64Array, from: number, to: number) => Float64Array | undefined,
  ) {
    this.held = new Float64Array(2 * reach + stretch);
    this.ready = new Float64Array(stretch);
    this.latencyFrames = reach + stretch;
  }

  process(channel: Float32Array): void {
    const { held, ready, stretch, reach } = this;
    const end = held.length - stretch;
    for (let start = 0; start < channel.length; ) {
      const count = Math.min(stretch - this.filled, channel.length - start);
      for (let i = 0; i < count; i++) {
        held[end + this.filled + i] = channel[start + i];
        channel[start + i] = ready[this.filled + i];
      }
      this.filled += count;
      start += count;
      if (this.filled < stretch) continue;
      this.filled = 0;
      const instead = this.repair(held, reach, reach + stretch);
      ready.set(instead ?? held.subarray(reach, reach + stretch));
      held.copyWithin(0, stretch);
    }
  }
}

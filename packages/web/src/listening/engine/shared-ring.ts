/**
 * Two channels of samples in memory that the feeding worker and the sounding worklet share: one writes, the other reads, neither
 * waits. Frames are counted on and on as 32-bit numbers that wrap; their place in the ring is the count modulo its size.
 */
export const RING_FRAMES = 1 << 15;
const MASK = RING_FRAMES - 1;

const CELL = { written: 0, read: 1, jumpTo: 2, jumpsAsked: 3, jumpsDone: 4, playing: 5 } as const;

export interface RingMemory {
  control: SharedArrayBuffer;
  channels: [left: SharedArrayBuffer, right: SharedArrayBuffer];
}

export const ringMemory = (): RingMemory => ({
  control: new SharedArrayBuffer(4 * Object.keys(CELL).length),
  channels: [new SharedArrayBuffer(4 * RING_FRAMES), new SharedArrayBuffer(4 * RING_FRAMES)],
});

/** Frames from `from` to `to`, over the wrap. */
export const framesBetween = (from: number, to: number): number => (to - from) | 0;

export class SharedRing {
  private readonly control: Int32Array;
  private readonly left: Float32Array;
  private readonly right: Float32Array;

  constructor({ control, channels }: RingMemory) {
    this.control = new Int32Array(control);
    [this.left, this.right] = channels.map((channel) => new Float32Array(channel));
  }

  get written(): number {
    return Atomics.load(this.control, CELL.written);
  }

  /** The next frame that sounds. */
  get read(): number {
    return this.jumpPending ? Atomics.load(this.control, CELL.jumpTo) : Atomics.load(this.control, CELL.read);
  }

  get jumpPending(): boolean {
    return Atomics.load(this.control, CELL.jumpsAsked) !== Atomics.load(this.control, CELL.jumpsDone);
  }

  get ahead(): number {
    return framesBetween(this.read, this.written);
  }

  get playing(): boolean {
    return Atomics.load(this.control, CELL.playing) === 1;
  }

  set playing(on: boolean) {
    Atomics.store(this.control, CELL.playing, on ? 1 : 0);
  }

  /** The writer's: what is not heard yet will not be; what is written next sounds at once. */
  jump(): void {
    Atomics.store(this.control, CELL.jumpTo, this.written);
    Atomics.add(this.control, CELL.jumpsAsked, 1);
  }

  /** The writer's. There must be room: RING_FRAMES - ahead. */
  write(left: Float32Array, right: Float32Array, gain: number): void {
    const start = this.written;
    for (let i = 0; i < left.length; i++) {
      const at = (start + i) & MASK;
      this.left[at] = gain * left[i];
      this.right[at] = gain * right[i];
    }
    Atomics.store(this.control, CELL.written, (start + left.length) | 0);
  }

  /**
   * The reader's: fills a quantum and says whether it sounded to its end. A jump and a pause fade out over one quantum, and what
   * comes after silence fades in over one, so that nothing clicks.
   */
  readQuantum(left: Float32Array, right: Float32Array, sounding: boolean): boolean {
    const frames = left.length;
    const asked = Atomics.load(this.control, CELL.jumpsAsked);
    const jumping = asked !== Atomics.load(this.control, CELL.jumpsDone);
    const start = Atomics.load(this.control, CELL.read);
    const end = jumping ? Atomics.load(this.control, CELL.jumpTo) : this.written;
    const goesOn = this.playing && !jumping;
    const there = goesOn || sounding ? Math.min(frames, framesBetween(start, end)) : 0;
    for (let i = 0; i < there; i++) {
      const at = (start + i) & MASK;
      const rise = sounding ? 1 : (i + 1) / frames;
      const gain = goesOn ? rise : rise * (1 - (i + 1) / frames);
      left[i] = gain * this.left[at];
      right[i] = gain * this.right[at];
    }
    left.fill(0, there);
    right.fill(0, there);
    Atomics.store(this.control, CELL.read, jumping ? end : (start + there) | 0);
    if (jumping) Atomics.store(this.control, CELL.jumpsDone, asked);
    return goesOn && there === frames;
  }
}

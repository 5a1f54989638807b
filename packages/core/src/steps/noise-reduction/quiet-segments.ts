export interface Segment {
  startFrame: number;
  endFrame: number;
  energy: number;
  /** Mean |X|^2 by channel. */
  powers: Float32Array[];
}

/** So many of the quietest are kept of every part of a recording. */
const KEPT_A_PART = 8;
const MOST_PARTS = 24;

/**
 * The quietest stretches of every part of a recording, so that a room that becomes louder is known on both sides of the change. Parts grow
 * with the recording: when there are too many, neighbours become one. Memory is the same for any length.
 */
export class QuietSegments {
  private parts: Segment[][] = [];

  /** @param partFrames of the first parts */
  constructor(private partFrames: number) {}

  /** @param powersOf makes the segment's powers, where it is kept */
  add(segment: Omit<Segment, 'powers'>, powersOf: () => Float32Array[]): void {
    let at = Math.floor(segment.startFrame / this.partFrames);
    while (at >= MOST_PARTS) {
      this.join();
      at = Math.floor(segment.startFrame / this.partFrames);
    }
    while (this.parts.length <= at) this.parts.push([]);
    const part = this.parts[at];
    const louder = part.findIndex(({ energy }) => energy > segment.energy);
    const place = louder < 0 ? part.length : louder;
    if (place === KEPT_A_PART) return;
    part.splice(place, 0, { ...segment, powers: powersOf() });
    if (part.length > KEPT_A_PART) part.pop();
  }

  get all(): Segment[] {
    return this.parts.flat();
  }

  private join(): void {
    this.partFrames *= 2;
    this.parts = Array.from({ length: Math.ceil(this.parts.length / 2) }, (_, i) =>
      [...this.parts[2 * i], ...(this.parts[2 * i + 1] ?? [])]
        .sort((a, b) => a.energy - b.energy)
        .slice(0, KEPT_A_PART),
    );
  }
}

import { kernels, RealFft } from '@tonos/kernels';
import { type Block, framesOf, type SignalFormat } from '../signal/signal.ts';
import { noTrace, type Processor } from '../steps/step.ts';
import type { SpectralBox } from './spectral-box.ts';

/** About 40 ms, a power of two: narrow enough for a hum's neighbour, short enough for a click of the tongue. */
export const boxTransformSize = (sampleRateHz: number): number => 2 ** Math.round(Math.log2(sampleRateHz * 0.04));

/** Bins over which a box's edge rises. */
const EDGE_BINS = 2;

/**
 * Adds what boxes take away to the signal: of each short-time spectrum under a box, (gain - 1) times it, resynthesised. Where there
 * is no box nothing is transformed, and samples pass unchanged. Square-root Hann windows overlapping by three quarters.
 */
export class BoxProcessor implements Processor<unknown> {
  readonly latencyFrames: number;
  readonly takeTrace = noTrace;
  private readonly size: number;
  private readonly hop: number;
  private readonly fft: RealFft;
  private readonly inputs: Float32Array[];
  private readonly incoming: Float32Array[];
  /** What is added to the input, sample by sample. */
  private readonly changes: Float32Array[];
  private readonly taken: Float32Array;
  private filled = 0;
  /** Frame number of the next sample. */
  private frame: number;

  /** @param firstFrame of the first sample that comes, a multiple of a quarter of the transform's size */
  constructor(
    private readonly boxes: readonly SpectralBox[],
    private readonly format: SignalFormat,
    firstFrame = 0,
  ) {
    this.size = boxTransformSize(format.sampleRateHz);
    this.latencyFrames = this.size;
    this.hop = this.size / 4;
    this.fft = new RealFft(this.size);
    this.inputs = Array.from({ length: format.channels }, () => new Float32Array(this.size));
    this.incoming = this.inputs.map(() => new Float32Array(this.hop));
    this.changes = this.inputs.map(() => new Float32Array(this.size));
    this.taken = new Float32Array(this.fft.bins);
    this.frame = firstFrame;
  }

  update(): void {
    // boxes belong to a recording and do not change while it runs
  }

  process(block: Block): void {
    const { hop } = this;
    const frames = framesOf(block);
    let start = 0;
    while (start < frames) {
      const count = Math.min(hop - this.filled, frames - start);
      block.forEach((channel, c) => {
        const [input, incoming, change] = [this.inputs[c], this.incoming[c], this.changes[c]];
        for (let i = 0; i < count; i++) {
          const at = this.filled + i;
          incoming[at] = channel[start + i];
          channel[start + i] = input[at] + change[at];
        }
      });
      this.filled += count;
      this.frame += count;
      start += count;
      if (this.filled === hop) this.endHop();
    }
  }

  private endHop(): void {
    const { size, hop, taken } = this;
    const { f32 } = kernels();
    this.filled = 0;
    const touched = this.readBoxes((this.frame - size / 2) / this.format.sampleRateHz);
    this.inputs.forEach((input, c) => {
      const change = this.changes[c];
      input.copyWithin(0, hop);
      input.set(this.incoming[c], size - hop);
      change.copyWithin(0, hop);
      change.fill(0, size - hop);
      if (!touched) return;
      const { re, im } = this.fft.spectrumOf(input, 'root-hann');
      for (let k = 0; k < taken.length; k++) {
        f32[(re >> 2) + k] *= taken[k];
        f32[(im >> 2) + k] *= taken[k];
      }
      this.fft.addInverse(change, 'root-hann');
    });
  }

  /** Fills `taken` with (gain - 1) of each bin at a moment; false where no box is. Decibels of boxes that overlap add up. */
  private readBoxes(seconds: number): boolean {
    const here = this.boxes.filter(({ startSeconds, endSeconds }) => seconds >= startSeconds && seconds <= endSeconds);
    if (!here.length) return false;
    const hzPerBin = this.format.sampleRateHz / this.size;
    for (let k = 0; k < this.taken.length; k++) {
      let db = 0;
      for (const { lowHz, highHz, gainDb } of here) {
        const outside = Math.max(0, lowHz / hzPerBin - k, k - highHz / hzPerBin);
        db += gainDb * Math.max(0, 1 - outside / EDGE_BINS);
      }
      this.taken[k] = 10 ** (db / 20) - 1;
    }
    return true;
  }
}

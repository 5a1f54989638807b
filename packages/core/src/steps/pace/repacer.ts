import { Resampler } from '../../dsp/resampler.ts';
import { MemorySignal } from '../../signal/memory.ts';
import { type Block, emptyBlock, framesOf, type SignalFormat, sliceBlock } from '../../signal/signal.ts';
import { simplified, type TimeMap } from '../../time/time-map.ts';
import type { Retimer } from '../step.ts';
import { FormantKeeper } from './formants.ts';
import { Stretcher } from './stretcher.ts';

interface Pace {
  tempo: number;
  pitchRatio: number;
  keepFormants: boolean;
}

/** Ratios of rates are fractions of at most this: nearer to any pitch than a hundredth of a cent. */
const MOST_DENOMINATOR = 600;
const ENOUGH_FRAMES = 16_384;

/**
 * Tempo and pitch: the sound is stretched to its new length times the pitch ratio, then read so much faster; the resonances that went along
 * are put back. Length is to the frame.
 */
export class Repacer implements Retimer {
  readonly map: TimeMap;
  private readonly wanted: number;
  private made = 0;
  private waiting: MemorySignal;
  private readonly stretcher: Stretcher | undefined;
  private readonly resampler: Resampler | undefined;
  private readonly formants: FormantKeeper | undefined;

  constructor(
    { tempo, pitchRatio, keepFormants }: Pace,
    private readonly format: SignalFormat,
    frames: number,
  ) {
    const { sampleRateHz, channels } = format;
    this.waiting = new MemorySignal(format);
    const [over, under] = fractionOf(pitchRatio);
    const pitch = over / under;
    this.wanted = Math.round(frames / tempo);
    const stretch = frames ? (this.wanted / frames) * pitch : 1;
    if (Math.abs(stretch - 1) > 1e-9) this.stretcher = new Stretcher(stretch, format);
    if (over !== under) {
      this.resampler = new Resampler(over, under, channels);
      if (keepFormants) this.formants = new FormantKeeper(pitch, format);
    }
    this.map = simplified([
      [0, 0],
      [frames / sampleRateHz, this.wanted / sampleRateHz],
    ]);
  }

  *process(block: Block): Generator<Block> {
    if (!this.stretcher) yield* this.moved(block);
    else for (const part of this.stretcher.process(block)) yield* this.moved(part);
  }

  *flush(): Generator<Block> {
    if (this.stretcher) for (const part of this.stretcher.flush()) yield* this.moved(part);
    if (this.resampler) {
      yield* this.resampled();
      yield* this.shaped(this.resampler.flush());
    }
    if (this.formants) yield* this.cut(this.formants.flush());
    if (this.made < this.wanted) yield* this.cut(emptyBlock(this.format.channels, this.wanted - this.made));
  }

  private *moved(block: Block): Generator<Block> {
    if (!this.resampler) return yield* this.cut(block);
    this.waiting.write(block);
    if (this.waiting.frames >= ENOUGH_FRAMES) yield* this.resampled();
  }

  /** What has been waiting, at once: a resampler between such rates has hundreds of phases, and a call for each. */
  private *resampled(): Generator<Block> {
    const together = this.waiting.joined();
    this.waiting = new MemorySignal(this.format);
    yield* this.shaped(this.resampler!.push(together));
  }

  private shaped(block: Block): Generator<Block> {
    return this.cut(this.formants ? this.formants.process(block) : block);
  }

  /** No more than is wanted. */
  private *cut(block: Block): Generator<Block> {
    const frames = Math.min(framesOf(block), this.wanted - this.made);
    if (frames <= 0) return;
    this.made += frames;
    yield sliceBlock(block, 0, frames);
  }
}

/** The nearest fraction with a small denominator, by continued fractions. */
function fractionOf(ratio: number): [over: number, under: number] {
  let [a, b, c, d] = [1, 0, Math.floor(ratio), 1];
  let rest = ratio - c;
  while (rest > 1e-9) {
    const whole = Math.floor(1 / rest);
    if (b + whole * d > MOST_DENOMINATOR) break;
    [a, b, c, d] = [c, d, a + whole * c, b + whole * d];
    rest = 1 / rest - whole;
  }
  return [c, d];
}

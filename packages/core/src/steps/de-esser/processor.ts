import { held, kernels, MOST_FRAMES } from '@tonos/kernels';
import { CONTROL_FRAMES, ControlledGain, controlSteps, StepPower } from '../../dsp/controlled-gain.ts';
import { DelayLine } from '../../dsp/delay-line.ts';
import { highPassTaps, SymmetricFilter } from '../../dsp/linear-phase.ts';
import { MovingAverage } from '../../dsp/moving-average.ts';
import { dbToGainQuickly, dbToPower, powerToDb } from '../../signal/decibels.ts';
import { cut } from '../../signal/memory.ts';
import { type Block, framesOf, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { Ballistics } from '../ballistics.ts';
import type { Processor } from '../step.ts';
import type { DeEsserSettings } from './de-esser.ts';

/** An s is read over this, and turned down from its first sample on: the signal waits for half of it. */
const WINDOW_MS = 6;
const ATTACK_SECONDS = 0.001;
const RELEASE_SECONDS = 0.03;
/** Under this the whole is silence, and there is no s. */
const LEAST_POWER = 1e-8;
/** The band's stop edge, as a share of its frequency: what lies lower does not change. */
const STOP_SHARE = 0.8;
/** Of what lies lower, so little at most is taken away. */
const ATTENUATION_DB = 66;

/**
 * out = x - (1 - g) band(x), the band cut by a linear-phase high-pass: under it nothing is added or taken, whatever g does. The gain
 * follows how strong the band is against the whole. Channels are linked.
 */
export class DeEsserProcessor implements Processor<DeEsserSettings> {
  readonly latencyFrames: number;
  private readonly filters: (SymmetricFilter | undefined)[];
  private readonly wait: { whole: DelayLine; band: DelayLine };
  private readonly averages: { band: MovingAverage; whole: MovingAverage };
  private readonly powers = { band: new StepPower(), whole: new StepPower() };
  /** Mean squares over the window by the last control step. */
  private readonly squares = { band: 0, whole: 0 };
  private readonly ballistics = new Ballistics();
  /** Share of the band that is taken away. */
  private readonly taken = new ControlledGain(0);
  /** Power of the band against the whole from which on it is an s. */
  private thresholdShare: number;
  private size = 0;
  private bands: Float32Array[] = [];
  private wholes: Float32Array[] = [];

  constructor(
    private settings: DeEsserSettings,
    { sampleRateHz: rate, channels }: SignalFormat,
  ) {
    const { frequencyHz, thresholdDb } = settings;
    this.thresholdShare = dbToPower(thresholdDb);
    // a band beyond Nyquist holds nothing
    const taps =
      frequencyHz < 0.49 * rate ? highPassTaps(STOP_SHARE * frequencyHz, frequencyHz, ATTENUATION_DB, rate) : undefined;
    this.filters = Array.from({ length: channels }, () => taps && new SymmetricFilter(taps));
    const window = Math.max(2, millisecondsToFrames(WINDOW_MS, rate));
    const waits = Math.floor(window / 2);
    this.wait = { whole: new DelayLine(channels, waits), band: new DelayLine(channels, waits) };
    this.latencyFrames = taps ? (taps.length - 1) / 2 + waits : 0;
    const steps = controlSteps(window);
    this.averages = { band: new MovingAverage(steps), whole: new MovingAverage(steps) };
    this.ballistics.set(ATTACK_SECONDS, RELEASE_SECONDS, CONTROL_FRAMES / rate);
  }

  get trace() {
    return { gainReductionDb: this.ballistics.value };
  }

  /** The band's edge is this processor's latency: a new one takes effect at the next start. */
  update(settings: DeEsserSettings): void {
    this.settings = settings;
    this.thresholdShare = dbToPower(settings.thresholdDb);
  }

  process(block: Block): void {
    const frames = framesOf(block);
    if (!this.filters[0] || !frames) return;
    if (this.size < frames) this.grow(frames, block.length);
    const bands = this.bands.map((band) => band.subarray(0, frames));
    const wholes = this.wholes.map((whole) => whole.subarray(0, frames));
    block.forEach((channel, c) => this.filters[c]!.process(channel, bands[c], wholes[c]));
    const { averages, powers, squares } = this;
    powers.band.hear(bands);
    powers.whole.hear(wholes);
    let step = 0;
    const shares = this.taken.over(frames, this.aim, () => {
      squares.band = averages.band.next(Math.min(64, powers.band.meanSquares[step]));
      squares.whole = averages.whole.next(Math.min(64, powers.whole.meanSquares[step++]));
    });
    this.wait.whole.process(wholes);
    this.wait.band.process(bands);
    const idle = shares.subarray(0, frames).every((share) => share === 0);
    block.forEach((channel, c) => {
      if (idle) channel.set(wholes[c]);
      else
        for (const [part, whole, band, share] of cut(
          [channel, wholes[c], bands[c], shares.subarray(0, frames)],
          MOST_FRAMES,
        ))
          takeAway(part, whole, band, share);
    });
  }

  private grow(frames: number, channels: number): void {
    this.size = frames;
    this.bands = Array.from({ length: channels }, () => new Float32Array(frames));
    this.wholes = this.bands.map(() => new Float32Array(frames));
  }

  /** The share after the next control step. */
  private readonly aim = (): number => {
    const { thresholdDb, rangeDb } = this.settings;
    const { band, whole } = this.squares;
    // most of a voice is no s: then no logarithm is needed
    const over = band > this.thresholdShare * whole ? powerToDb(band / whole) - thresholdDb : 0;
    const reduction = this.ballistics.next(whole > LEAST_POWER ? Math.min(rangeDb, over) : 0);
    return reduction ? 1 - dbToGainQuickly(-reduction) : 0;
  };
}

/** out = whole - share x band. */
function takeAway(out: Float32Array, whole: Float32Array, band: Float32Array, share: Float32Array): void {
  const kernel = kernels();
  const at = held(whole, 0);
  kernel.withoutShare(at, held(band, 1), held(share, 2), out.length);
  out.set(kernel.f32.subarray(at >> 2, (at >> 2) + out.length));
}

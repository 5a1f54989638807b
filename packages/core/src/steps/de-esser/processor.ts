import { DelayLine } from '../../dsp/delay-line.ts';
import { highPassTaps, SymmetricFilter } from '../../dsp/linear-phase.ts';
import { MovingAverage } from '../../dsp/moving-average.ts';
import { CONTROL_FRAMES, StraightLines } from '../../dsp/straight-lines.ts';
import { dbToGain, powerToDb } from '../../signal/decibels.ts';
import { type Block, framesOf, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { Ballistics } from '../ballistics.ts';
import type { Processor } from '../step.ts';
import type { DeEsserSettings } from './de-esser.ts';

/** An s is read over this, and turned down from its first sample on: the signal waits for half of it. */
const WINDOW_MS = 6;
const ATTACK_SECONDS = 0.001;
const RELEASE_SECONDS = 0.03;
/** Under this the whole is silence, and there is no s. */
const LEAST_DB = -80;
/** The band's stop edge, as a share of its frequency: what lies lower does not change. */
const STOP_SHARE = 0.8;
const ATTENUATION_DB = 80;

/**
 * out = x - (1 - g) band(x), the band cut by a linear-phase high-pass: under it nothing is added or taken, whatever g does. The gain
 * follows how strong the band is against the whole. Channels are linked.
 */
export class DeEsserProcessor implements Processor<DeEsserSettings> {
  readonly latencyFrames: number;
  private readonly filters: (SymmetricFilter | undefined)[];
  private readonly wait: { whole: DelayLine; band: DelayLine };
  private readonly bandPower: MovingAverage;
  private readonly wholePower: MovingAverage;
  private readonly ballistics = new Ballistics();
  /** Share of the band that is taken away. */
  private readonly taken = new StraightLines(0);
  private size = 0;
  private bands: Float64Array[] = [];
  private wholes: Float64Array[] = [];
  private shares = new Float64Array(0);

  constructor(
    private settings: DeEsserSettings,
    { sampleRateHz: rate, channels }: SignalFormat,
  ) {
    const { frequencyHz } = settings;
    // a band beyond Nyquist holds nothing
    const taps =
      frequencyHz < 0.49 * rate ? highPassTaps(STOP_SHARE * frequencyHz, frequencyHz, ATTENUATION_DB, rate) : undefined;
    this.filters = Array.from({ length: channels }, () => taps && new SymmetricFilter(taps));
    const window = Math.max(2, millisecondsToFrames(WINDOW_MS, rate));
    const waits = Math.floor(window / 2);
    this.wait = { whole: new DelayLine(channels, waits), band: new DelayLine(channels, waits) };
    this.latencyFrames = taps ? (taps.length - 1) / 2 + waits : 0;
    this.bandPower = new MovingAverage(window);
    this.wholePower = new MovingAverage(window);
    this.ballistics.set(ATTACK_SECONDS, RELEASE_SECONDS, CONTROL_FRAMES / rate);
  }

  get trace() {
    return { gainReductionDb: this.ballistics.value };
  }

  /** The band's edge is this processor's latency: a new one takes effect at the next start. */
  update(settings: DeEsserSettings): void {
    this.settings = settings;
  }

  process(block: Block): void {
    const frames = framesOf(block);
    if (!this.filters[0] || !frames) return;
    if (this.size < frames) this.grow(frames, block.length);
    const { bands, wholes, shares } = this;
    block.forEach((channel, c) => {
      this.filters[c]!.process(channel, bands[c], wholes[c]);
    });
    for (let i = 0; i < frames; i++) {
      let band = 0;
      let whole = 0;
      for (let c = 0; c < block.length; c++) {
        band += bands[c][i] * bands[c][i];
        whole += wholes[c][i] * wholes[c][i];
      }
      const bandPower = this.bandPower.next(Math.min(64, band / block.length));
      const wholePower = this.wholePower.next(Math.min(64, whole / block.length));
      if (this.taken.isDue) this.aim(bandPower, wholePower);
      shares[i] = this.taken.next();
    }
    const bandBlock = bands.map((band) => Float32Array.from(band.subarray(0, frames)));
    block.forEach((channel, c) => {
      for (let i = 0; i < frames; i++) channel[i] = wholes[c][i];
    });
    this.wait.whole.process(block);
    this.wait.band.process(bandBlock);
    block.forEach((channel, c) => {
      for (let i = 0; i < frames; i++) channel[i] -= shares[i] * bandBlock[c][i];
    });
  }

  private grow(frames: number, channels: number): void {
    this.size = frames;
    this.bands = Array.from({ length: channels }, () => new Float64Array(frames));
    this.wholes = this.bands.map(() => new Float64Array(frames));
    this.shares = new Float64Array(frames);
  }

  private aim(bandPower: number, wholePower: number): void {
    const { thresholdDb, rangeDb } = this.settings;
    const wholeDb = powerToDb(wholePower + 1e-20);
    const over = powerToDb(bandPower + 1e-20) - wholeDb - thresholdDb;
    const wanted = wholeDb > LEAST_DB ? Math.min(rangeDb, Math.max(0, over)) : 0;
    this.taken.aim(1 - dbToGain(-this.ballistics.next(wanted)));
  }
}

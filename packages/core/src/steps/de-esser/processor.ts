import { inPlace, kernels, RealFft } from '@tonos/kernels';
import { CONTROL_FRAMES, controlSteps } from '../../dsp/control-steps.ts';
import { ControlledGain } from '../../dsp/controlled-gain.ts';
import { DelayLine } from '../../dsp/delay-line.ts';
import { highPassTaps } from '../../dsp/linear-phase.ts';
import { MovingAverage } from '../../dsp/moving-average.ts';
import { StepPower } from '../../dsp/step-power.ts';
import { spectrumOfTaps, ZeroPhaseFilter } from '../../dsp/zero-phase-filter.ts';
import { type Block, framesOf, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { Ballistics } from '../ballistics.ts';
import type { Processor } from '../step.ts';
import type { DeEsserSettings } from './settings.ts';

/** An s is read over this, and turned down from its first sample on: the signal waits for half of it. */
const WINDOW_MS = 6;
const ATTACK_SECONDS = 0.001;
const RELEASE_SECONDS = 0.03;
/** Under this the whole is silence, and there is no s. */
const LEAST_DB = -80;
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
  private readonly filters: readonly ZeroPhaseFilter[];
  /** The whole becomes as late as its band, and both wait for half of the window. */
  private readonly wait: { filter: DelayLine; whole: DelayLine; band: DelayLine };
  private readonly levels: { band: WindowLevel; whole: WindowLevel };
  private readonly ballistics = new Ballistics();
  /** Share of the band that is taken away. */
  private readonly taken = new ControlledGain(0);
  private bands: Float32Array[] = [];

  constructor(
    private settings: DeEsserSettings,
    { sampleRateHz: rate, channels }: SignalFormat,
  ) {
    const { frequencyHz } = settings;
    // a band beyond Nyquist holds nothing
    this.filters = frequencyHz < 0.49 * rate ? bandFilters(frequencyHz, rate, channels) : [];
    const window = Math.max(2, millisecondsToFrames(WINDOW_MS, rate));
    const waits = Math.floor(window / 2);
    const late = this.filters.length ? this.filters[0].latencyFrames : 0;
    this.latencyFrames = late ? late + waits : 0;
    const line = (frames: number) => new DelayLine(channels, frames);
    this.wait = { filter: line(late), whole: line(waits), band: line(waits) };
    const steps = controlSteps(window);
    this.levels = { band: new WindowLevel(steps), whole: new WindowLevel(steps) };
    this.ballistics.set(ATTACK_SECONDS, RELEASE_SECONDS, CONTROL_FRAMES / rate);
  }

  takeTrace() {
    return { gainReductionDb: this.ballistics.takeLargest() };
  }

  /** The band's edge is this processor's latency: a new one takes effect at the next start. */
  update(settings: DeEsserSettings): void {
    this.settings = settings;
  }

  process(block: Block): void {
    const frames = framesOf(block);
    if (!this.filters.length || !frames) return;
    const bands = this.bandsOf(block, frames);
    this.wait.filter.process(block);
    const shares = this.taken.over(frames, this.readShares(bands, block));
    this.wait.band.process(bands);
    this.wait.whole.process(block);
    block.forEach((channel, c) => {
      inPlace(channel, [bands[c], shares], (count, at, band, share) => kernels().withoutShare(at, band, share, count));
    });
  }

  private bandsOf(block: Block, frames: number): Block {
    if (!this.bands.length || this.bands[0].length < frames) this.bands = block.map(() => new Float32Array(frames));
    return block.map((channel, c) => {
      const band = this.bands[c].subarray(0, frames);
      band.set(channel);
      this.filters[c].process(band);
      return band;
    });
  }

  /** The share that is taken after each control step that ends in these blocks, which lie side by side in time. */
  private readShares(bands: Block, wholes: Block): Float32Array {
    const band = this.levels.band.read(bands);
    const whole = this.levels.whole.read(wholes);
    const { thresholdDb, rangeDb } = this.settings;
    const { excesses, shares } = kernels();
    inPlace(band, [whole], (count, at, others) => {
      excesses(at, others, count, thresholdDb, rangeDb, LEAST_DB);
      this.ballistics.readAt(at, count);
      shares(at, count);
    });
    return band;
  }
}

/** The level over a window, by control steps. */
class WindowLevel {
  private readonly power = new StepPower();
  private readonly average: MovingAverage;

  /** @param steps of the window */
  constructor(steps: number) {
    this.average = new MovingAverage(steps);
  }

  /** In dB at the end of each step that ends in this block; good until the next one. */
  read(block: Block): Float32Array {
    const { meanSquares } = this.power.hear(block);
    inPlace(meanSquares, [], (count, at) => {
      this.average.readAt(at, count);
      kernels().decibels(at, count);
    });
    return meanSquares;
  }
}

/** From an edge on, by overlap-save. */
function bandFilters(frequencyHz: number, sampleRateHz: number, channels: number): ZeroPhaseFilter[] {
  const taps = highPassTaps(STOP_SHARE * frequencyHz, frequencyHz, ATTENUATION_DB, sampleRateHz);
  // half a transform holds the impulse
  const fft = new RealFft(2 ** Math.ceil(Math.log2(2 * taps.length)));
  const spectrum = spectrumOfTaps(fft, taps);
  return Array.from({ length: channels }, () => new ZeroPhaseFilter(fft, spectrum));
}

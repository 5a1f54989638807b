import { kernels } from '@tonos/kernels';
import { Oversampler } from '../../dsp/oversampler.ts';
import { dbToGain } from '../../signal/decibels.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import { noTrace, type Processor } from '../step.ts';
import type { SaturationSettings } from './settings.ts';

/** To this rate or higher: harmonics of a curve this soft have died away before they fold back. */
const ENOUGH_HZ = 352_800;
/** Where on the curve silence sits for even harmonics. */
const BIAS = 0.5;
/** The even curve makes an offset of its own: a high-pass far below hearing takes it away. */
const OFFSET_HZ = 5;
const RAMP_SECONDS = 0.02;

/** Curves of unit slope at silence: quiet sounds keep their level. */
const CURVES: Readonly<Record<SaturationSettings['character'], (x: number) => number>> = {
  odd: Math.tanh,
  even: (x) => (Math.tanh(x + BIAS) - Math.tanh(BIAS)) / (1 - Math.tanh(BIAS) ** 2),
};

export class SaturationProcessor implements Processor<SaturationSettings> {
  readonly latencyFrames: number;
  readonly takeTrace = noTrace;
  private readonly channels: {
    oversampler: Oversampler;
    last: number;
    offset: number;
    evenness: number;
    drive: number;
  }[];
  private readonly kernel = kernels();
  private readonly ramp: number;
  private readonly keep: number;
  private target: { drive: number; evenness: number };

  constructor(settings: SaturationSettings, format: SignalFormat) {
    const factor = Math.max(1, Math.ceil(ENOUGH_HZ / format.sampleRateHz));
    this.target = targetOf(settings);
    this.channels = Array.from({ length: format.channels }, () => ({
      oversampler: new Oversampler(factor),
      last: 0,
      offset: 0,
      ...this.target,
    }));
    this.latencyFrames = this.channels[0].oversampler.latencyFrames;
    this.ramp = 1 - Math.exp(-1 / (format.sampleRateHz * factor * RAMP_SECONDS));
    this.keep = Math.exp((-2 * Math.PI * OFFSET_HZ) / format.sampleRateHz);
  }

  update(settings: SaturationSettings): void {
    this.target = targetOf(settings);
  }

  process(block: Block): void {
    const { kernel, keep, target } = this;
    block.forEach((samples, c) => {
      const state = this.channels[c];
      state.oversampler.process(samples, (values, count) => {
        if (state.drive !== target.drive || state.evenness !== target.evenness) {
          this.bend(state, values, count);
          return;
        }
        const bias = state.evenness ? BIAS : 0;
        const slope = 1 - Math.tanh(bias) ** 2;
        kernel.saturated(values, 4 * Math.ceil(count / 4), state.drive, bias, slope);
      });
      for (let i = 0; i < samples.length; i++) {
        const x = samples[i];
        state.offset = x - state.last + keep * state.offset;
        state.last = x;
        samples[i] += state.evenness * (state.offset - x);
      }
      if (Math.abs(state.offset) < 1e-25) state.offset = 0;
    });
  }

  /** While settings move, value by value. */
  private bend(state: { drive: number; evenness: number }, values: number, count: number): void {
    const { ramp, target } = this;
    const { f32 } = this.kernel;
    const first = values >> 2;
    for (let i = first; i < first + count; i++) {
      if (state.drive !== target.drive)
        state.drive = near(state.drive + ramp * (target.drive - state.drive), target.drive);
      if (state.evenness !== target.evenness)
        state.evenness = near(state.evenness + ramp * (target.evenness - state.evenness), target.evenness);
      const pushed = state.drive * f32[i];
      const even = state.evenness ? state.evenness * CURVES.even(pushed) : 0;
      const odd = state.evenness < 1 ? (1 - state.evenness) * CURVES.odd(pushed) : 0;
      f32[i] = (even + odd) / state.drive;
    }
  }
}

const targetOf = ({ driveDb, character }: SaturationSettings) => ({
  drive: dbToGain(driveDb),
  evenness: character === 'even' ? 1 : 0,
});

const near = (value: number, target: number): number => (Math.abs(value - target) < 1e-6 ? target : value);

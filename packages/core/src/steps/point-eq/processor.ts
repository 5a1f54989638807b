import { RealFft } from '../../dsp/fft.ts';
import { monotoneCurve } from '../../dsp/monotone-curve.ts';
import { ZeroPhaseFilter, zeroPhaseSpectrum } from '../../dsp/zero-phase-filter.ts';
import { dbToGain } from '../../signal/decibels.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import { NO_TRACE, type Processor } from '../step.ts';
import type { PointEqSettings } from './point-eq.ts';

/** Long enough to tell 20 Hz from 30. */
const TRANSFORM_SECONDS = 0.68;

/** The curve in dB over the logarithm of frequency; of points at one frequency the last counts. */
export function pointCurve({ points }: PointEqSettings): (hz: number) => number {
  const byHz = new Map(points.map(({ frequencyHz, gainDb }) => [frequencyHz, gainDb]));
  const sorted = [...byHz].sort(([a], [b]) => a - b);
  const curve = monotoneCurve(
    sorted.map(([hz]) => Math.log(hz)),
    sorted.map(([, db]) => db),
  );
  return (hz) => curve(Math.log(Math.max(hz, 1e-3)));
}

export class PointEqProcessor implements Processor<PointEqSettings> {
  readonly latencyFrames: number;
  readonly trace = NO_TRACE;
  private readonly fft: RealFft;
  private readonly filters: ZeroPhaseFilter[];

  constructor(
    private settings: PointEqSettings,
    private readonly format: SignalFormat,
  ) {
    this.fft = new RealFft(2 ** Math.round(Math.log2(format.sampleRateHz * TRANSFORM_SECONDS)));
    const spectrum = this.spectrum();
    this.filters = Array.from({ length: format.channels }, () => new ZeroPhaseFilter(this.fft, spectrum));
    this.latencyFrames = this.filters[0].latencyFrames;
  }

  update(settings: PointEqSettings): void {
    if (JSON.stringify(settings) === JSON.stringify(this.settings)) return;
    this.settings = settings;
    const spectrum = this.spectrum();
    for (const filter of this.filters) filter.change(spectrum);
  }

  process(block: Block): void {
    block.forEach((channel, c) => {
      this.filters[c].process(channel);
    });
  }

  private spectrum(): Float64Array {
    const curve = pointCurve(this.settings);
    const hzPerBin = this.format.sampleRateHz / this.fft.size;
    return zeroPhaseSpectrum(this.fft, (bin) => dbToGain(curve(bin * hzPerBin)));
  }
}

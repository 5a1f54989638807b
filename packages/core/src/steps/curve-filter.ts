import { RealFft } from '@tonos/kernels';
import type { Curve } from '../dsp/frequency-curve.ts';
import { ZeroPhaseFilter, zeroPhaseSpectrum } from '../dsp/zero-phase-filter.ts';
import { dbToGain } from '../signal/decibels.ts';
import type { Block, SignalFormat } from '../signal/signal.ts';
import { noTrace, type Processor } from './step.ts';

/** Long enough to tell 20 Hz from 30. */
const TRANSFORM_SECONDS = 0.68;

/** Applies a curve without turning phases, and moves to another one without a click. */
export class CurveFilter<Settings> implements Processor<Settings> {
  readonly latencyFrames: number;
  readonly takeTrace = noTrace;
  private readonly fft: RealFft;
  private readonly filters: ZeroPhaseFilter[];

  constructor(
    private settings: Settings,
    private readonly format: SignalFormat,
    private readonly toCurve: (settings: Settings) => Curve,
  ) {
    this.fft = new RealFft(2 ** Math.round(Math.log2(format.sampleRateHz * TRANSFORM_SECONDS)));
    const spectrum = this.spectrum();
    this.filters = Array.from({ length: format.channels }, () => new ZeroPhaseFilter(this.fft, spectrum));
    this.latencyFrames = this.filters[0].latencyFrames;
  }

  update(settings: Settings): void {
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

  private spectrum(): Float32Array {
    const curve = this.toCurve(this.settings);
    const hzPerBin = this.format.sampleRateHz / this.fft.size;
    return zeroPhaseSpectrum(this.fft, (bin) => dbToGain(curve(bin * hzPerBin)));
  }
}

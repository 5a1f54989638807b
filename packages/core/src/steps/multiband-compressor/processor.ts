import { RealFft } from '@tonos/kernels';
import { DelayLine } from '../../dsp/delay-line.ts';
import { ZeroPhaseFilter, zeroPhaseSpectrum } from '../../dsp/zero-phase-filter.ts';
import { type Block, copyBlock, type SignalFormat } from '../../signal/signal.ts';
import { CompressorProcessor } from '../compressor/processor.ts';
import { type CompressorSettings, settings as compressorSettings } from '../compressor/settings.ts';
import type { Processor } from '../step.ts';
import type { MultibandSettings } from './settings.ts';

/** What stands for a band that is not listed: a compressor that changes nothing, and takes its time alike. */
const AS_IT_IS = compressorSettings.parse({ ratio: 1, makeupDb: 0 });
/** Periods of the lowest crossover that its filter reaches on either side: there it has fallen by 75 dB. */
const REACH_PERIODS = 2;
const LEAST_TRANSFORM = 256;

/** The same edges in rising order. */
const edgesOf = ({ crossoversHz }: MultibandSettings): number[] => [...crossoversHz].sort((a, b) => a - b);

/** Share of a frequency that lies under a crossover: 24 dB an octave, -6 dB at the crossover (Linkwitz 1976), without its turn of phase. */
export const lowShare = (hz: number, crossoverHz: number): number => 1 / (1 + (hz / crossoverHz) ** 4);

/**
 * A band is the difference of two linear-phase low-passes: together all bands are the signal itself, later, so that what is not compressed
 * does not change, and a delay is all that the dry signal needs.
 */
export class MultibandProcessor implements Processor<MultibandSettings> {
  readonly latencyFrames: number;
  private edges: number[];
  private readonly fft: RealFft;
  /** By crossover and channel. */
  private readonly lowPasses: ZeroPhaseFilter[][];
  private readonly whole: DelayLine;
  private readonly compressors: CompressorProcessor[];

  constructor(
    settings: MultibandSettings,
    private readonly format: SignalFormat,
  ) {
    const { sampleRateHz, channels } = format;
    this.edges = edgesOf(settings);
    // half of a transform holds both sides of the impulse
    const size = Math.max(LEAST_TRANSFORM, (4 * REACH_PERIODS * sampleRateHz) / this.edges[0]);
    this.fft = new RealFft(2 ** Math.ceil(Math.log2(size)));
    this.lowPasses = this.edges.map((hz) => {
      const spectrum = this.lowPass(hz);
      return Array.from({ length: channels }, () => new ZeroPhaseFilter(this.fft, spectrum));
    });
    const late = this.lowPasses[0][0].latencyFrames;
    this.whole = new DelayLine(channels, late);
    this.compressors = [...this.edges, 0].map((_, band) => new CompressorProcessor(bandOf(settings, band), format));
    this.latencyFrames = late + this.compressors[0].latencyFrames;
  }

  takeTrace() {
    return { gainReductionDb: Math.max(...this.compressors.map((one) => one.takeTrace().gainReductionDb)) };
  }

  /** The number of bands and the reach of the lowest are this processor's shape: another takes effect at the next start. */
  update(settings: MultibandSettings): void {
    const edges = edgesOf(settings);
    if (edges.length === this.edges.length) {
      edges.forEach((hz, e) => {
        if (hz === this.edges[e]) return;
        const spectrum = this.lowPass(hz);
        for (const filter of this.lowPasses[e]) filter.change(spectrum);
      });
      this.edges = edges;
    }
    this.compressors.forEach((one, band) => {
      one.update(bandOf(settings, band));
    });
  }

  process(block: Block): void {
    // what lies under each crossover, and at the end the whole
    const under = this.lowPasses.map((filters) => {
      const part = copyBlock(block);
      filters.forEach((filter, c) => {
        filter.process(part[c]);
      });
      return part;
    });
    this.whole.process(block);
    under.push(copyBlock(block));
    for (const channel of block) channel.fill(0);
    for (let band = under.length - 1; band >= 0; band--) {
      const part = under[band];
      if (band > 0) accumulate(part, under[band - 1], -1);
      this.compressors[band].process(part);
      accumulate(block, part, 1);
    }
  }

  private lowPass(crossoverHz: number): Float32Array {
    const { fft, format } = this;
    return zeroPhaseSpectrum(fft, (bin) => lowShare((bin * format.sampleRateHz) / fft.size, crossoverHz));
  }
}

const bandOf = ({ bands }: MultibandSettings, band: number): CompressorSettings => bands[band] ?? AS_IT_IS;

function accumulate(to: Block, what: Block, sign: 1 | -1): void {
  to.forEach((channel, c) => {
    for (let i = 0; i < channel.length; i++) channel[i] += sign * what[c][i];
  });
}

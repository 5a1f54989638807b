import { Crossfaded } from '../../dsp/crossfaded.ts';
import { FilterCascade } from '../../dsp/filter-cascade.ts';
import { highSections, lowSections, sumSection } from '../../dsp/linkwitz-riley.ts';
import { type Block, copyBlock, type SignalFormat } from '../../signal/signal.ts';
import { type CompressorSettings, compressor } from '../compressor/compressor.ts';
import { CompressorProcessor } from '../compressor/processor.ts';
import type { Processor } from '../step.ts';
import type { MultibandSettings } from './multiband-compressor.ts';

/** What stands for a band that is not listed: a compressor that changes nothing, and takes its time alike. */
const AS_IT_IS = compressor.settings.parse({ ratio: 1, makeupDb: 0 });

/** The same edges in rising order. */
const edgesOf = ({ crossoversHz }: MultibandSettings): number[] => [...crossoversHz].sort((a, b) => a - b);

/**
 * A band is what lies between two crossovers. It also goes through the all-pass of every crossover above its own, so that all bands turn
 * their phases alike and add up to a flat whole; the dry path of `mix` takes the same turn.
 */
function bandFilter(edges: readonly number[], band: number, { sampleRateHz: rate, channels }: SignalFormat) {
  const sections = [
    ...edges.slice(0, band).flatMap((hz) => highSections(hz, rate)),
    ...(band < edges.length ? lowSections(edges[band], rate) : []),
    ...edges.slice(band + 1).map((hz) => sumSection(hz, rate)),
  ];
  return new FilterCascade(sections, channels);
}

export class MultibandProcessor implements Processor<MultibandSettings> {
  readonly latencyFrames: number;
  readonly dryPath: Crossfaded<number[]>;
  private readonly filters: Crossfaded<number[]>[];
  private readonly compressors: CompressorProcessor[];

  constructor(settings: MultibandSettings, format: SignalFormat) {
    const edges = edgesOf(settings);
    this.filters = Array.from(
      { length: edges.length + 1 },
      (_, band) => new Crossfaded(edges, format, (now) => bandFilter(now, band, format)),
    );
    this.dryPath = new Crossfaded(edges, format, (now) => {
      const turns = now.map((hz) => sumSection(hz, format.sampleRateHz));
      return new FilterCascade(turns, format.channels);
    });
    this.compressors = this.filters.map((_, band) => new CompressorProcessor(bandOf(settings, band), format));
    this.latencyFrames = this.compressors[0].latencyFrames;
  }

  get trace() {
    return { gainReductionDb: Math.max(...this.compressors.map(({ trace }) => trace.gainReductionDb)) };
  }

  /** The number of bands is this processor's shape: another takes effect at the next start. */
  update(settings: MultibandSettings): void {
    const edges = edgesOf(settings);
    if (edges.length + 1 === this.filters.length)
      for (const filter of [...this.filters, this.dryPath]) filter.update(edges);
    this.compressors.forEach((one, band) => {
      one.update(bandOf(settings, band));
    });
  }

  process(block: Block): void {
    const bands = this.filters.map((filter, band) => {
      const part = copyBlock(block);
      filter.process(part);
      this.compressors[band].process(part);
      return part;
    });
    block.forEach((channel, c) => {
      channel.fill(0);
      for (const band of bands) for (let i = 0; i < channel.length; i++) channel[i] += band[c][i];
    });
  }
}

const bandOf = ({ bands }: MultibandSettings, band: number): CompressorSettings => bands[band] ?? AS_IT_IS;

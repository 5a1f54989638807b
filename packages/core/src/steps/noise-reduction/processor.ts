import { Stft } from '../../dsp/stft.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import { noTrace, type Processor } from '../step.ts';
import { spectrumSize } from './noise-profile.ts';
import { NoiseTracker } from './noise-tracker.ts';
import type { NoiseReductionFindings, NoiseReductionSettings } from './settings.ts';
import { SpectralGain } from './spectral-gain.ts';

/** Each channel has its own noise, so each is cleaned by itself. */
export class NoiseReductionProcessor implements Processor<NoiseReductionSettings> {
  readonly latencyFrames: number;
  readonly takeTrace = noTrace;
  private readonly channels: ChannelCleaner[];

  constructor(
    private settings: NoiseReductionSettings,
    format: SignalFormat,
    findings: NoiseReductionFindings,
  ) {
    const size = spectrumSize(format.sampleRateHz);
    this.latencyFrames = size;
    this.channels = Array.from({ length: format.channels }, (_, c) => {
      return new ChannelCleaner(size, size / 4 / format.sampleRateHz, findings.noisePowers?.[c]);
    });
  }

  update(settings: NoiseReductionSettings): void {
    this.settings = settings;
  }

  process(block: Block): void {
    this.channels.forEach((cleaner, c) => {
      cleaner.process(block[c], this.settings);
    });
  }
}

class ChannelCleaner {
  private readonly stft: Stft;
  private readonly noise: Float32Array | NoiseTracker;
  private readonly gain: SpectralGain;

  constructor(size: number, hopSeconds: number, noise: readonly number[] | undefined) {
    this.stft = new Stft(size);
    this.noise = noise ? Float32Array.from(noise) : new NoiseTracker(this.stft.bins, hopSeconds);
    this.gain = new SpectralGain(this.stft.bins, hopSeconds);
  }

  process(channel: Float32Array, settings: NoiseReductionSettings): void {
    this.stft.process(channel, (spectrum) => this.gain.apply(spectrum, this.noise, settings));
  }
}

import { Stft } from '../../dsp/stft.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import { NO_TRACE, type Processor } from '../step.ts';
import { spectrumSize } from './noise-profile.ts';
import type { NoiseReductionFindings, NoiseReductionSettings } from './noise-reduction.ts';
import { NoiseTracker } from './noise-tracker.ts';
import { SpectralGain } from './spectral-gain.ts';

/** Each channel has its own noise, so each is cleaned by itself. */
export class NoiseReductionProcessor implements Processor<NoiseReductionSettings> {
  readonly latencyFrames: number;
  readonly trace = NO_TRACE;
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
  private readonly tracker: NoiseTracker | undefined;
  private readonly gain: SpectralGain;
  private readonly power: Float32Array;
  private readonly noise: Float32Array | undefined;

  constructor(size: number, hopSeconds: number, noise: readonly number[] | undefined) {
    this.stft = new Stft(size);
    this.noise = noise && Float32Array.from(noise);
    this.tracker = noise ? undefined : new NoiseTracker(this.stft.bins, hopSeconds);
    this.gain = new SpectralGain(this.stft.bins, hopSeconds);
    this.power = new Float32Array(this.stft.bins);
  }

  process(channel: Float32Array, settings: NoiseReductionSettings): void {
    this.stft.process(channel, (re, im) => {
      const { power, gain } = this;
      for (let k = 0; k < power.length; k++) power[k] = re[k] * re[k] + im[k] * im[k];
      this.tracker?.next(power);
      gain.next(power, this.tracker?.powers ?? this.noise!, settings);
      for (let k = 0; k < power.length; k++) {
        re[k] *= gain.gains[k];
        im[k] *= gain.gains[k];
      }
    });
  }
}

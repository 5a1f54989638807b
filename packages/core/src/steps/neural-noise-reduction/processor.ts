import { DelayLine } from '../../dsp/delay-line.ts';
import { Resampler } from '../../dsp/resampler.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { noTrace, type Processor } from '../step.ts';
import { NetworkChannel } from './network-channel.ts';
import { NETWORK_RATE_HZ } from './rnnoise.ts';
import type { NeuralNoiseReductionSettings } from './settings.ts';

const RAMP_MS = 20;

/**
 * The network works at 48 kHz, so what it keeps ends at 24 kHz whatever the recording's rate. Strength blends its answer with the
 * input, in line to the frame: at 0 the input passes bit for bit. The network's own high-pass at 20 Hz turns the lowest phases a little.
 */
export class NeuralNoiseReductionProcessor implements Processor<NeuralNoiseReductionSettings> {
  readonly latencyFrames: number;
  readonly takeTrace = noTrace;
  private readonly networks: NetworkChannel[];
  private readonly delay: DelayLine;
  private readonly down: Resampler | undefined;
  private readonly up: Resampler | undefined;
  /** What is cleaned already, from the next output frame on. */
  private readonly cleaned: Float32Array[];
  private strength: number;
  private target: number;
  private readonly step: number;

  constructor({ strength }: NeuralNoiseReductionSettings, { sampleRateHz, channels }: SignalFormat) {
    const resampled = sampleRateHz !== NETWORK_RATE_HZ;
    this.networks = Array.from({ length: channels }, () => new NetworkChannel());
    this.down = resampled ? new Resampler(sampleRateHz, NETWORK_RATE_HZ, channels) : undefined;
    this.up = resampled ? new Resampler(NETWORK_RATE_HZ, sampleRateHz, channels) : undefined;
    const atNetworkRate = NetworkChannel.REACH_FRAMES + (this.up ? this.up.reachFrames + 1 : 0);
    const atOwnRate = this.down ? this.down.reachFrames + 1 : 0;
    this.latencyFrames = Math.ceil((atNetworkRate * sampleRateHz) / NETWORK_RATE_HZ) + atOwnRate;
    this.delay = new DelayLine(channels, this.latencyFrames);
    this.cleaned = Array.from({ length: channels }, () => new Float32Array(this.latencyFrames));
    this.strength = strength;
    this.target = strength;
    this.step = 1 / ((RAMP_MS / 1000) * sampleRateHz);
  }

  update({ strength }: NeuralNoiseReductionSettings): void {
    this.target = strength;
  }

  process(block: Block): void {
    const frames = framesOf(block);
    if (!frames) return;
    const heard = this.down ? this.down.push(block) : block;
    const answers = this.networks.map((network, c) => network.next(heard[c]));
    const fresh = this.up ? this.up.push(answers) : answers;
    this.delay.process(block);
    let strength = this.strength;
    block.forEach((channel, c) => {
      strength = this.strength;
      const cleaned = new Float32Array(this.cleaned[c].length + fresh[c].length);
      cleaned.set(this.cleaned[c]);
      cleaned.set(fresh[c], this.cleaned[c].length);
      for (let i = 0; i < frames; i++) {
        if (strength < this.target) strength = Math.min(this.target, strength + this.step);
        else if (strength > this.target) strength = Math.max(this.target, strength - this.step);
        channel[i] += strength * (cleaned[i] - channel[i]);
      }
      this.cleaned[c] = cleaned.slice(frames);
    });
    this.strength = strength;
  }
}

import type * as z from 'zod';
import { Convolver } from '../../dsp/convolver.ts';
import { DelayLine } from '../../dsp/delay-line.ts';
import { decibels, hertz, milliseconds, seconds, secondsOrNone, settingsOf } from '../../settings/settings.ts';
import { dbToGain } from '../../signal/decibels.ts';
import { figure, plainFigure } from '../../signal/figures.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { defineStep, noTrace, type Processor } from '../step.ts';
import { decayAt, roomResponse } from './room-response.ts';

const settings = settingsOf(() => ({
  decaySeconds: seconds('Decay', {
    min: 0.1,
    max: 5,
    default: 0.8,
    description: 'Until the room is 60 dB down, at 1 kHz',
  }),
  preDelayMs: milliseconds('Pre-delay', { min: 0, max: 200, default: 20, step: 1 }),
  wetDb: decibels('Room', { min: -60, max: 0, default: -18, description: 'Against the dry voice, in power' }),
  dampingHz: hertz('Damping over', { min: 1000, max: 20000, default: 6000 }),
  tailSeconds: secondsOrNone('Tail', { min: 0, max: 10, description: 'Empty: until the room is 60 dB down' }),
}));
type Settings = z.output<typeof settings>;

const tailOf = ({ tailSeconds, preDelayMs, decaySeconds }: Settings): number =>
  tailSeconds ?? preDelayMs / 1000 + decaySeconds;

export const reverb = defineStep({
  kind: 'reverb',
  title: 'Reverb',
  group: 'time',
  summary: 'Puts the voice into a room, and lets the room sound on behind its end.',
  words: ['room', 'echo', 'space', 'hall', 'ambience', 'dry'],
  settings,
  describe: ({ decaySeconds, wetDb }) => `${plainFigure(decaySeconds)} s, ${figure(wetDb)} dB`,
  curves: {
    decay: (given) =>
      SHOWN_HZ.map((hz) => {
        const [before, falls] = [given.preDelayMs / 1000, decayAt(given, hz)];
        return {
          hz,
          levelDb: (at) => (at < before ? Number.NEGATIVE_INFINITY : (-60 * (at - before)) / falls),
          endSeconds: before + falls,
        };
      }),
  },
  traits: { bendsWave: true, addsRoom: true, longest: (given, length) => length + tailOf(given) },
  start: (given, format) => new Reverberating(given, format),
});

/** Of these frequencies the decay is drawn. */
const SHOWN_HZ = [250, 1000, 4000, 8000];

/** Long responses are cut into longer parts: the work stays about the same. */
const PARTS = 8;
const LEAST_HOP_SECONDS = 0.04;

class Reverberating implements Processor<Settings> {
  readonly latencyFrames: number;
  readonly tailFrames: number;
  readonly takeTrace = noTrace;
  private readonly convolvers: Convolver[];
  private readonly dry: DelayLine;
  private gain: number;
  private wet = new Float32Array(0);

  constructor(
    private settings: Settings,
    private readonly format: SignalFormat,
  ) {
    const { sampleRateHz, channels } = format;
    const { decaySeconds, preDelayMs } = settings;
    const wanted = Math.max(LEAST_HOP_SECONDS, (decaySeconds + preDelayMs / 1000) / PARTS) * sampleRateHz;
    this.latencyFrames = 2 ** Math.round(Math.log2(wanted));
    this.tailFrames = Math.round(tailOf(settings) * sampleRateHz);
    this.convolvers = this.responses().map((response) => new Convolver(this.latencyFrames, response));
    this.dry = new DelayLine(channels, this.latencyFrames);
    this.gain = dbToGain(settings.wetDb);
  }

  update(given: Settings): void {
    const { decaySeconds, preDelayMs, dampingHz } = this.settings;
    const before = [decaySeconds, preDelayMs, dampingHz].join();
    this.settings = given;
    if ([given.decaySeconds, given.preDelayMs, given.dampingHz].join() === before) return;
    for (const [c, response] of this.responses().entries()) this.convolvers[c].change(response);
  }

  process(block: Block): void {
    const from = this.gain;
    const to = dbToGain(this.settings.wetDb);
    const frames = framesOf(block);
    if (this.wet.length < frames * block.length) this.wet = new Float32Array(frames * block.length);
    const wets = block.map((_, c) => this.wet.subarray(c * frames, (c + 1) * frames));
    block.forEach((channel, c) => {
      this.convolvers[c].process(channel, wets[c]);
    });
    this.dry.process(block);
    block.forEach((channel, c) => {
      const wet = wets[c];
      // a gain that is changed gets there within the block
      for (let i = 0; i < channel.length; i++)
        channel[i] += (from === to ? to : from + ((i + 1) / channel.length) * (to - from)) * wet[i];
    });
    this.gain = to;
  }

  private responses() {
    const { sampleRateHz, channels } = this.format;
    return Array.from({ length: channels }, (_, c) =>
      Convolver.cut(this.latencyFrames, roomResponse(this.settings, sampleRateHz, c)),
    );
  }
}

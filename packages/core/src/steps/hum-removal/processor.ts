import { dbToGain } from '../../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { noTrace, type Processor } from '../step.ts';
import { AMPLITUDE_SECONDS, type HumFindings } from './hum-findings.ts';
import type { HumRemovalSettings } from './settings.ts';

/** Phase and amplitude are read anew once in so many frames; between, a phasor turns evenly. */
const CHUNK = 64;
const UPDATE_SECONDS = 0.02;

/** Takes each line away as what it is: out = x - sum of Re A_n(t) exp(j n (2 pi f0 t + theta(t))). Nothing is delayed, nothing else changed. */
export class HumProcessor implements Processor<HumRemovalSettings> {
  readonly latencyFrames = 0;
  readonly takeTrace = noTrace;
  /** Share of each line that is taken now. */
  private readonly shares: Float64Array;
  private readonly most: number;

  constructor(
    private settings: HumRemovalSettings,
    private readonly format: SignalFormat,
    private readonly findings: HumFindings,
    private frame = 0,
  ) {
    const { lines = [] } = findings;
    this.shares = Float64Array.from(lines, ({ harmonic }) => this.wanted(harmonic));
    this.most = CHUNK / (UPDATE_SECONDS * format.sampleRateHz);
  }

  update(settings: HumRemovalSettings): void {
    this.settings = settings;
  }

  process(block: Block): void {
    const { lines = [], amplitudes, theta } = this.findings;
    const frames = framesOf(block);
    const first = this.frame;
    this.frame += frames;
    if (!amplitudes || !theta) return;
    // stretches lie on a fixed grid, so that the result does not hang on the blocks
    for (let start = 0; start < frames; ) {
      const grid = Math.floor((first + start) / CHUNK) * CHUNK;
      const end = Math.min(frames, grid + CHUNK - first);
      lines.forEach(({ harmonic }, l) => {
        const before = this.shares[l];
        const after = before + Math.max(-this.most, Math.min(this.most, this.wanted(harmonic) - before));
        if (before || after)
          for (let c = 0; c < block.length; c++)
            this.take(block[c], start, end, first, grid, l, harmonic, c, before, after);
        if (first + end === grid + CHUNK) this.shares[l] = after;
      });
      start = end;
    }
  }

  private take(
    channel: Float32Array,
    start: number,
    end: number,
    first: number,
    grid: number,
    line: number,
    harmonic: number,
    c: number,
    before: number,
    after: number,
  ): void {
    const { sampleRateHz } = this.format;
    const [from, to] = [grid / sampleRateHz, (grid + CHUNK) / sampleRateHz];
    const phase = this.phaseAt(from, harmonic);
    const turn = (this.phaseAt(to, harmonic) - phase) / CHUNK;
    const { re: a, im: b } = this.amplitudeAt(from, c, line);
    const offset = first + start - grid;
    const angle = phase + turn * offset;
    let [re, im] = [a * Math.cos(angle) - b * Math.sin(angle), a * Math.sin(angle) + b * Math.cos(angle)];
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
    const slope = (after - before) / CHUNK;
    for (let i = start; i < end; i++) {
      channel[i] -= (before + slope * (first + i - grid)) * re;
      const next = re * cos - im * sin;
      im = re * sin + im * cos;
      re = next;
    }
  }

  private wanted(harmonic: number): number {
    const { harmonics, depthDb } = this.settings;
    return harmonic <= harmonics ? 1 - dbToGain(-depthDb) : 0;
  }

  private phaseAt(seconds: number, harmonic: number): number {
    const { mainsHz = 0, startSeconds = 0, thetaSeconds = 1, theta = [] } = this.findings;
    const place = Math.max(0, Math.min(theta.length - 1, (seconds - startSeconds) / thetaSeconds));
    const at = Math.min(Math.max(0, theta.length - 2), Math.floor(place));
    const share = place - at;
    const now = theta[at] + share * ((theta[at + 1] ?? theta[at]) - theta[at]);
    // before the first and after the last value the mains goes on as it was there
    return harmonic * (2 * Math.PI * mainsHz * seconds + now);
  }

  private amplitudeAt(seconds: number, channel: number, line: number): { re: number; im: number } {
    const values = this.findings.amplitudes![channel]?.[line] ?? [0, 0];
    const count = values.length / 2;
    const place = (seconds - (this.findings.startSeconds ?? 0)) / AMPLITUDE_SECONDS;
    const at = Math.max(0, Math.min(count - 2, Math.floor(place)));
    const next = Math.min(count - 1, at + 1);
    const share = Math.max(0, Math.min(1, place - at));
    return {
      re: values[2 * at] + share * (values[2 * next] - values[2 * at]),
      im: values[2 * at + 1] + share * (values[2 * next + 1] - values[2 * at + 1]),
    };
  }
}

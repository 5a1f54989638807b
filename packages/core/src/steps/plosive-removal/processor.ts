import { highPassTaps } from '../../dsp/linear-phase.ts';
import { StretchRepair } from '../../dsp/stretch-repair.ts';
import { type Block, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { noTrace, type Processor } from '../step.ts';
import { leastOverDb, type PlosiveFindings, type PlosiveSettings } from './settings.ts';

const STRETCH_MS = 20;
const FADE_SECONDS = 0.015;
const ATTENUATION_DB = 60;
/** The high-pass lets nothing of a thump through up to this share of its frequency. */
const STOP_SHARE = 0.5;

/** Inside a thump a linear-phase high-pass, faded in and out; outside it nothing is changed. */
export class PlosiveProcessor implements Processor<PlosiveSettings> {
  readonly latencyFrames: number;
  readonly takeTrace = noTrace;
  private readonly channels: StretchRepair[];
  private readonly taps: Float64Array;
  private readonly rate: number;

  constructor(
    private settings: PlosiveSettings,
    { sampleRateHz, channels }: SignalFormat,
    thumps: PlosiveFindings['thumps'],
    firstFrame = 0,
  ) {
    this.rate = sampleRateHz;
    const { frequencyHz } = settings;
    this.taps = highPassTaps(STOP_SHARE * frequencyHz, frequencyHz, ATTENUATION_DB, sampleRateHz);
    const reach = (this.taps.length - 1) / 2;
    const stretch = millisecondsToFrames(STRETCH_MS, sampleRateHz);
    this.channels = Array.from({ length: channels }, (_, c) => {
      // the first stretch that is decided on begins before the recording
      let first = firstFrame - reach;
      return new StretchRepair(stretch, reach, (seen, from, to) => {
        const filtered = this.filter(seen, from, to, first, thumps[c] ?? []);
        first += stretch;
        return filtered;
      });
    });
    this.latencyFrames = this.channels[0].latencyFrames;
  }

  /** The filter's length is this processor's latency: a new frequency takes effect at the next start. */
  update(settings: PlosiveSettings): void {
    this.settings = settings;
  }

  process(block: Block): void {
    block.forEach((channel, c) => {
      this.channels[c].process(channel);
    });
  }

  /** The stretch with its thumps filtered; undefined where it has none. */
  private filter(
    seen: Float64Array,
    from: number,
    to: number,
    firstFrame: number,
    thumps: PlosiveFindings['thumps'][number],
  ): Float64Array | undefined {
    const least = leastOverDb(this.settings);
    const [start, end] = [firstFrame / this.rate, (firstFrame + to - from) / this.rate];
    const here = thumpsNear(thumps, start, end).filter(([, , over]) => over >= least);
    if (!here.length) return undefined;
    const half = (this.taps.length - 1) / 2;
    const filtered = new Float64Array(to - from);
    for (let i = from; i < to; i++) {
      let sum = 0;
      for (let k = 0; k < this.taps.length; k++) sum += this.taps[k] * seen[i - half + k];
      const seconds = (firstFrame + i - from) / this.rate;
      const share = Math.max(...here.map(([a, b]) => fade(seconds, a, b)));
      filtered[i - from] = seen[i] + share * (sum - seen[i]);
    }
    return filtered;
  }
}

/** Of thumps in order those that touch a stretch: found by halving. */
function thumpsNear(thumps: PlosiveFindings['thumps'][number], start: number, end: number) {
  let [low, high] = [0, thumps.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (thumps[middle][1] + FADE_SECONDS > start) high = middle;
    else low = middle + 1;
  }
  let last = low;
  while (last < thumps.length && thumps[last][0] - FADE_SECONDS < end) last++;
  return thumps.slice(low, last);
}

const fade = (seconds: number, start: number, end: number): number => {
  const inside = Math.min(seconds - start, end - seconds);
  const share = Math.min(1, Math.max(0, inside / FADE_SECONDS + 1));
  return 0.5 - 0.5 * Math.cos(Math.PI * share);
};

import { kernels, once, held as placed, RealFft, roomFor } from '@tonos/kernels';
import { HalvedBlocks } from '../../dsp/halved-blocks.ts';
import { median } from '../../dsp/quantile.ts';
import { powerToDb } from '../../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { subBlockStart } from '../sub-blocks.ts';
import {
  ActivityFrames,
  BAND_EDGES_HZ,
  BAND_POWERS,
  BANDS,
  FRAMES_PER_SECOND,
  type Run,
  VOICE_BANDS,
} from './activity-frames.ts';
import { decaySeconds } from './decay.ts';
import { findSpeech } from './find-speech.ts';
import { OffsetMeter } from './offset.ts';
import { roomChange } from './room-change.ts';
import { roomFloor } from './room-floor.ts';
import { findRoomTone, type RoomTone } from './room-tone.ts';
import { sibilance } from './sibilance.ts';

/**
 * Where somebody speaks and where only the room sounds: gathers band levels every 20 ms and, when all is heard, tells the room's floor
 * (room-floor.ts), speech over it (find-speech.ts) and the room by itself (room-tone.ts).
 */

/** What is heard lies under this rate's half: higher rates are halved first, which spares half the work each time. */
export const ACTIVITY_HZ = 22000;
/** Of a low rate's half the topmost tenth is left out: resamplers fade it. */
const USABLE = 0.45;

export interface SpeechLevel {
  startSeconds: number;
  endSeconds: number;
  levelDb: number;
}

export interface ActivityFigures {
  speech: { startSeconds: number; endSeconds: number }[];
  roomTone: RoomTone[];
  /** Mean spectrum of the speech, in dB a band, or undefined where there is none. */
  speechBandsDb: number[] | undefined;
  bandEdgesHz: readonly number[];
  /** Level of speech per second of it, in dBFS, for judging how even it is, and where. */
  speechLevels: SpeechLevel[];
  /** Mean power of 5 to 10 kHz in s sounds over 1 to 4 kHz in vowels, in dB; undefined where that can't be told. */
  sibilanceDb: number | undefined;
  /** Where s sounds lie that are sharper than the rest. */
  sharpest: { startSeconds: number; endSeconds: number }[];
  /** Reverberation time by how speech dies away at its ends, in seconds; undefined where too few ends are clear. */
  decaySeconds: number | undefined;
  /** Where the room changed, between one tone and the next: when and by how much. */
  roomChange: { seconds: number; byDb: number } | undefined;
  /** Level of the room over 100 Hz, without what hums and rumbles below; undefined without tones. */
  roomAboveDb: number | undefined;
  /** Constant offset by channel, 1 = full scale. */
  offsets: number[];
}

const levelsRoom = once(() => ({ found: roomFor(6) }));

export class ActivityMeter {
  private readonly kernel = kernels();
  private readonly fft: RealFft;
  private readonly edges: Int32Array;
  private readonly held: Float32Array[];
  private readonly bandPowers = new Float64Array(BANDS);
  private readonly frames: ActivityFrames;
  private readonly sums: Float64Array;
  private readonly energies: Float64Array;
  private readonly offsets: OffsetMeter[];
  private frame = 0;
  private nextEnd: number;

  /** @param halved what it is given by `hearHalved`, where somebody else needs that too */
  constructor(
    private readonly format: SignalFormat,
    private readonly halved = new HalvedBlocks(format, ACTIVITY_HZ),
  ) {
    const { sampleRateHz, channels } = format;
    const { rate } = halved;
    const each = <T>(make: () => T) => Array.from({ length: channels }, make);
    const size = 2 ** Math.round(Math.log2(rate * 0.032));
    this.fft = new RealFft(size);
    this.held = each(() => new Float32Array(size));
    this.sums = new Float64Array(channels);
    this.energies = new Float64Array(channels);
    this.offsets = each(() => new OffsetMeter());
    this.edges = bandEdges(size, rate);
    const holds = (b: number) => this.edges[b + 1] > this.edges[b];
    this.frames = new ActivityFrames(Array.from({ length: VOICE_BANDS }, (_, b) => b).filter(holds).length);
    this.nextEnd = subBlockStart(1, sampleRateHz, FRAMES_PER_SECOND);
  }

  hear(block: Block): void {
    for (const { piece, slower } of this.halved.of(block)) this.hearHalved(piece, slower);
  }

  conclude(): ActivityFigures {
    const { frames } = this;
    const speech = findSpeech(frames, roomFloor(frames));
    const roomTone = findRoomTone(frames, speech);
    return {
      speech: speech.map(({ start, end }) => ({
        startSeconds: start / FRAMES_PER_SECOND,
        endSeconds: end / FRAMES_PER_SECOND,
      })),
      roomTone,
      speechBandsDb: meanBands(frames, speech),
      bandEdgesHz: BAND_EDGES_HZ,
      speechLevels: speechLevels(frames, speech),
      ...sibilance(frames, speech),
      decaySeconds: decaySeconds(frames, speech),
      roomChange: roomChange(frames, roomTone),
      roomAboveDb: roomAbove(frames, roomTone),
      offsets: this.offsets.map((meter) => meter.conclude()),
    };
  }

  /** @param slower the block at the rate that is enough */
  hearHalved(block: Block, slower: Block): void {
    const frames = framesOf(block);
    const before = this.halved.framesAfter(this.frame);
    let taken = 0;
    const { found } = levelsRoom();
    const places = block.map((channel, c) => placed(channel, c));
    let start = 0;
    while (start < frames) {
      const end = Math.min(frames, start + this.nextEnd - this.frame);
      const until = this.halved.framesAfter(this.frame + end - start) - before;
      for (let c = 0; c < block.length; c++) {
        this.kernel.levels(places[c] + 4 * start, end - start, found);
        this.sums[c] += this.kernel.f64[found >> 3];
        this.energies[c] += this.kernel.f64[(found >> 3) + 1];
        this.take(c, slower[c].subarray(taken, until));
      }
      this.frame += end - start;
      taken = until;
      start = end;
      if (this.frame === this.nextEnd) this.readFrame();
    }
  }

  /** Puts samples, at the rate that is enough, behind those held of a channel. */
  private take(channel: number, samples: Float32Array): void {
    const held = this.held[channel];
    const kept = samples.subarray(Math.max(0, samples.length - held.length));
    held.copyWithin(0, kept.length);
    held.set(kept, held.length - kept.length);
  }

  private readFrame(): void {
    const { fft, edges, frames, held } = this;
    const { sampleRateHz } = this.format;
    const index = frames.count;
    const fresh = this.nextEnd - subBlockStart(index, sampleRateHz, FRAMES_PER_SECOND);
    const bandPowers = this.bandPowers.fill(0);
    for (const samples of held) fft.addBandPowers(samples, 'hann', edges, bandPowers);
    let [moving, whole] = [0, 0];
    for (let c = 0; c < held.length; c++) {
      const mean = this.sums[c] / fresh;
      const power = this.energies[c] / fresh;
      const about = Math.max(0, power - mean * mean);
      this.offsets[c].add(mean, about);
      moving += about / held.length;
      whole += power / held.length;
    }
    // a full-scale sine reads -3 dB: |X|^2 of a Hann window is (size / 4)^2, spread over bins by 1.5
    frames.add(bandPowers, 8 / 3 / fft.size ** 2 / held.length, moving, whole);
    this.sums.fill(0);
    this.energies.fill(0);
    this.nextEnd = subBlockStart(index + 2, sampleRateHz, FRAMES_PER_SECOND);
  }
}

/** Bins at which bands begin. What a low rate does not hold is empty: bands without bins read nothing. */
function bandEdges(size: number, rate: number): Int32Array {
  const top = Math.floor(USABLE * size);
  const edges = Int32Array.from(BAND_EDGES_HZ, (hz) => Math.round((hz * size) / rate));
  for (let b = 1; b < edges.length; b++) edges[b] = Math.min(top, Math.max(edges[b], edges[b - 1] + 1));
  return edges;
}

function meanBands({ bands, voiceBands }: ActivityFrames, speech: readonly Run[]): number[] | undefined {
  if (!speech.length) return undefined;
  const sums = new Float64Array(BANDS);
  let frames = 0;
  for (const { start, end } of speech) {
    for (let i = start; i < end; i++) {
      for (let b = 0; b < BANDS; b++) sums[b] += BAND_POWERS[bands[i * BANDS + b]];
      frames++;
    }
  }
  return Array.from(sums.subarray(0, voiceBands), (sum) => powerToDb(sum / frames));
}

/** Over the bands, of which the lowest begins at 100 Hz: the middle of the tones. */
function roomAbove({ bands }: ActivityFrames, roomTone: readonly RoomTone[]): number | undefined {
  const levels = roomTone.map(({ startSeconds, endSeconds }) => {
    const [from, to] = [startSeconds, endSeconds].map((s) => Math.round(s * FRAMES_PER_SECOND));
    let sum = 0;
    for (let k = from * BANDS; k < to * BANDS; k++) sum += BAND_POWERS[bands[k]];
    return powerToDb(sum / Math.max(1, to - from) + 1e-20);
  });
  return median(levels);
}

function speechLevels(frames: ActivityFrames, speech: readonly Run[]): SpeechLevel[] {
  const levels: SpeechLevel[] = [];
  let energy = 0;
  let count = 0;
  let from = 0;
  for (const { start, end } of speech) {
    for (let i = start; i < end; i++) {
      if (count === 0) from = i;
      energy += frames.power(i);
      if (++count < FRAMES_PER_SECOND) continue;
      levels.push({
        startSeconds: from / FRAMES_PER_SECOND,
        endSeconds: (i + 1) / FRAMES_PER_SECOND,
        levelDb: powerToDb(energy / count),
      });
      energy = 0;
      count = 0;
    }
  }
  return levels;
}

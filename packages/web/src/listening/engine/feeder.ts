import { type Block, dbToGain, framesOf, LiveMeter, Resampler, sliceBlock, type TimeSpan } from '@tonos/core';
import { Feed, faded, uncutSound } from './feed.ts';
import type { FromFeeder, Going, Track } from './messages.ts';
import { type fetchFrames, SampleReader } from './sample-reader.ts';
import { RING_FRAMES, type SharedRing } from './shared-ring.ts';
import { toStereo } from './to-stereo.ts';

const AHEAD_SECONDS = 0.5;
/** With steps that are being edited, less: what is changed is to be heard at once. */
const LIVE_AHEAD_SECONDS = 0.05;
const CHANGE_FADE_SECONDS = 0.02;
const PIECE_FRAMES = 2048;
const LIVE_PIECE_FRAMES = 512;
const SNIPPET_SECONDS = 0.07;
const SNIPPET_FADE_SECONDS = 0.01;
const WAIT_MS = 10;
const PAUSED_WAIT_MS = 60;

interface FeederNeeds {
  ring: SharedRing;
  /** Of the sound device. */
  rateHz: number;
  fetchBlock: typeof fetchFrames;
  say(message: FromFeeder): void;
}

/** Keeps the ring filled from wherever somebody listens: fetches, measures, repeats, resamples, mixes. */
export class Feeder {
  private readonly reader: SampleReader;
  private going = 0;
  private sounding: Sounding | undefined;

  constructor(private readonly needs: FeederNeeds) {
    this.reader = new SampleReader(needs.fetchBlock);
  }

  /** Sounds from a place on, until another is asked for. */
  async go(asked: number, { track, seconds, loop, gainDb }: Going): Promise<void> {
    await this.feed(asked, track, (sounding) => sounding.run(seconds, loop && loopFrames(loop, track)), gainDb);
  }

  /** Goes on from where it is, with the track's other steps or programme, and at another level. */
  change(track: Track, gainDb: number): void {
    this.sounding?.change(track, dbToGain(gainDb));
  }

  async snippet(asked: number, track: Track, seconds: number, gainDb: number): Promise<void> {
    await this.feed(asked, track, (sounding) => sounding.snippet(seconds), gainDb);
  }

  private async feed(asked: number, track: Track, run: (sounding: Sounding) => Promise<void>, gainDb: number) {
    const mine = ++this.going;
    this.needs.ring.jump();
    try {
      this.sounding = new Sounding(asked, track, dbToGain(gainDb), this.needs, this.reader, () => this.going === mine);
      await run(this.sounding);
    } catch (error) {
      if (this.going === mine) this.needs.say({ type: 'trouble', message: (error as Error).message });
    }
  }
}

const loopFrames = ({ startSeconds, endSeconds }: TimeSpan, { sampleRateHz, frames }: Track) => {
  const start = Math.max(0, Math.round(startSeconds * sampleRateHz));
  const end = Math.min(frames, Math.round(endSeconds * sampleRateHz));
  return end > start ? { start, end } : null;
};

/** One going from one place: its own resampler and meters, started where the ring stands. */
class Sounding {
  private resampler: Resampler | undefined;
  private meter: LiveMeter;
  /** Of what was heard last: steps may change the layout. */
  private channels: number;
  /** The ring's frame at which it started. */
  private readonly first: number;
  private fed = 0;
  private feed: Feed | undefined;
  /** Whether steps are being edited: then little is prepared ahead. */
  private quick: boolean;
  private isChanged = false;
  private gainNow: number;

  constructor(
    private readonly asked: number,
    private track: Track,
    private gain: number,
    private readonly needs: FeederNeeds,
    private readonly reader: SampleReader,
    private readonly wanted: () => boolean,
  ) {
    const { channels } = track;
    this.first = needs.ring.written;
    this.quick = track.live !== undefined || track.programme !== undefined;
    this.gainNow = gain;
    this.channels = channels;
    this.resampler = this.newResampler();
    this.meter = this.newMeter();
  }

  /** @param track the same one, changed */
  change(track: Track, gain: number): void {
    this.track = track;
    this.gain = gain;
    this.quick = true;
    this.isChanged = true;
  }

  async run(seconds: number, loop: { start: number; end: number } | null): Promise<void> {
    const { frames, sampleRateHz } = this.track;
    let at = Math.min(frames, Math.max(0, Math.round(seconds * sampleRateHz)));
    // who starts behind a loop's end hears on to the file's end
    const end = loop && at < loop.end ? loop.end : frames;
    while (this.wanted()) {
      const before = this.fed;
      for await (const block of this.frames(at, end === frames ? undefined : end)) {
        if (!(await this.hasRoom())) return;
        this.hear(block);
      }
      // a file that is shorter than was said has nothing to repeat
      if (!loop || end !== loop.end || this.fed === before) return this.finish();
      at = loop.start;
    }
  }

  async snippet(seconds: number): Promise<void> {
    const { sampleRateHz, frames } = this.track;
    const start = Math.min(frames, Math.max(0, Math.round(seconds * sampleRateHz)));
    const end = Math.min(frames, start + Math.round(SNIPPET_SECONDS * sampleRateHz));
    const fade = Math.round(SNIPPET_FADE_SECONDS * sampleRateHz);
    this.sayPlace(start);
    let at = start;
    for await (const block of uncutSound(this.reader, this.track).blocks(start, end)) {
      if (!this.wanted()) return;
      const gain = (i: number) => Math.min(1, (at + i - start) / fade, (end - at - i) / fade);
      this.hear(block.map((channel) => channel.map((x, i) => x * gain(i))));
      at += framesOf(block);
    }
    if (this.wanted()) this.write(this.resampler?.flush());
  }

  /**
   * The track from one frame to another; where it changes meanwhile, one sound turns into the other.
   * @param loopEnd otherwise to its end, which may lie elsewhere when it has changed
   */
  private async *frames(from: number, loopEnd: number | undefined): AsyncGenerator<Block> {
    let at = from;
    const open = () => this.openFeed(at, loopEnd ?? this.track.frames);
    let feed = open();
    this.sayPlace(at);
    while (this.wanted()) {
      if (this.isChanged) {
        this.isChanged = false;
        if (!feed.update(this.track.live)) {
          const old = feed;
          feed = open();
          if (old.tempo !== feed.tempo) this.sayPlace(at);
          for await (const block of this.turned(old, feed)) {
            at += framesOf(block) * feed.tempo;
            yield block;
          }
        }
      }
      const skip = this.skipFrom(at);
      if (skip && skip.start <= at) {
        const old = feed;
        at = skip.end;
        if (at >= (loopEnd ?? this.track.frames)) return;
        feed = open();
        this.sayPlace(at);
        for await (const block of this.turned(old, feed)) {
          at += framesOf(block) * feed.tempo;
          yield block;
        }
        continue;
      }
      const most = this.quick ? LIVE_PIECE_FRAMES : PIECE_FRAMES;
      const untilSkip = skip ? Math.max(1, Math.round((skip.start - at) / feed.tempo)) : most;
      const block = await feed.next(Math.min(most, untilSkip));
      if (!block) return;
      at += framesOf(block) * feed.tempo;
      yield block;
    }
  }

  /** The next stretch that steps leave out, in frames: one that a frame lies in, or that comes. */
  private skipFrom(frame: number): { start: number; end: number } | undefined {
    const { live, sampleRateHz } = this.track;
    for (const { startSeconds, endSeconds } of live?.skips ?? []) {
      const [start, end] = [Math.round(startSeconds * sampleRateHz), Math.round(endSeconds * sampleRateHz)];
      if (end > frame && end > start) return { start, end };
    }
    return undefined;
  }

  private openFeed(from: number, to: number): Feed {
    this.feed = new Feed(this.reader, this.track, Math.round(from), to, (frame) => this.sayPlace(frame));
    return this.feed;
  }

  private async *turned(old: Feed, fresh: Feed): AsyncGenerator<Block> {
    const total = Math.round(CHANGE_FADE_SECONDS * this.track.sampleRateHz);
    for (let done = 0; done < total; ) {
      const after = await fresh.next(Math.min(LIVE_PIECE_FRAMES, total - done));
      if (!after) return;
      const before: Block[] = [];
      for (let missing = framesOf(after); missing > 0; ) {
        const piece = await old.next(missing);
        if (!piece) break;
        missing -= framesOf(piece);
        before.push(piece);
      }
      let start = 0;
      for (const piece of before) {
        const end = start + framesOf(piece);
        yield faded(piece, sliceBlock(after, start, end), done + start, total);
        start = end;
      }
      // where the old sound has ended, the new one stands alone
      if (start < framesOf(after)) yield sliceBlock(after, start, framesOf(after));
      done += framesOf(after);
    }
  }

  private newResampler(): Resampler | undefined {
    const { sampleRateHz } = this.track;
    const { rateHz } = this.needs;
    return sampleRateHz === rateHz ? undefined : new Resampler(sampleRateHz, rateHz, this.channels);
  }

  private newMeter(): LiveMeter {
    const { sampleRateHz } = this.track;
    const start = this.fed;
    return new LiveMeter({ sampleRateHz, channels: this.channels }, (reading, frames) =>
      this.needs.say({
        type: 'reading',
        asked: this.asked,
        frame: this.ringFrame(start + frames),
        reading,
        traces: this.feed?.takeTraces() ?? {},
      }),
    );
  }

  private hear(block: Block): void {
    if (block.length !== this.channels) {
      this.channels = block.length;
      this.resampler = this.newResampler();
      this.meter = this.newMeter();
    }
    this.fed += framesOf(block);
    this.meter.hear(block);
    this.write(this.resampler ? this.resampler.push(block) : block);
  }

  private finish(): void {
    if (!this.wanted()) return;
    this.write(this.resampler?.flush());
    const { ring, say } = this.needs;
    say({ type: 'end', asked: this.asked, frame: ring.written });
  }

  private write(block: Block | undefined): void {
    if (!block || !framesOf(block)) return;
    const [left, right] = toStereo(block);
    if (this.gainNow === this.gain) this.needs.ring.write(left, right, this.gain);
    else this.writeTurning(left.slice(), right.slice());
  }

  /** Moves to another level on a straight line. */
  private writeTurning(left: Float32Array, right: Float32Array): void {
    const { rateHz, ring } = this.needs;
    const step = (this.gain - this.gainNow) / Math.max(1, Math.round(CHANGE_FADE_SECONDS * rateHz));
    for (let i = 0; i < left.length; i++) {
      if (this.gainNow !== this.gain) {
        const next = this.gainNow + step;
        this.gainNow = step > 0 === next < this.gain ? next : this.gain;
      }
      left[i] *= this.gainNow;
      right[i] *= this.gainNow;
    }
    ring.write(left, right, 1);
  }

  /** Waits until the ring wants more; false where nobody wants this any more. */
  private async hasRoom(): Promise<boolean> {
    const { ring, rateHz } = this.needs;
    // a piece may grow when it is resampled: half the ring stays free for it
    const ahead = this.quick ? LIVE_AHEAD_SECONDS : AHEAD_SECONDS;
    const most = Math.min(ahead * rateHz, RING_FRAMES / 2);
    while (this.wanted() && ring.ahead > most)
      await new Promise((resolve) => setTimeout(resolve, ring.playing ? WAIT_MS : PAUSED_WAIT_MS));
    return this.wanted();
  }

  private sayPlace(at: number): void {
    const seconds = at / this.track.sampleRateHz;
    const speed = this.feed?.tempo ?? 1;
    this.needs.say({ type: 'place', asked: this.asked, frame: this.ringFrame(this.fed), seconds, speed });
  }

  private ringFrame(fedFrames: number): number {
    return (this.first + Math.round((fedFrames * this.needs.rateHz) / this.track.sampleRateHz)) | 0;
  }
}

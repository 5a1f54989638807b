import { type Block, dbToGain, framesOf, LiveMeter, Resampler, type TimeSpan } from '@tonos/core';
import { boxedFrames } from './boxed-frames.ts';
import type { FromFeeder, Going, Track } from './messages.ts';
import { type fetchFrames, SampleReader } from './sample-reader.ts';
import { RING_FRAMES, type SharedRing } from './shared-ring.ts';
import { toStereo } from './to-stereo.ts';

const AHEAD_SECONDS = 0.5;
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

  constructor(private readonly needs: FeederNeeds) {
    this.reader = new SampleReader(needs.fetchBlock);
  }

  /** Sounds from a place on, until another is asked for. */
  async go(asked: number, { track, seconds, loop, gainDb }: Going): Promise<void> {
    await this.feed(asked, track, (sounding) => sounding.run(seconds, loop && loopFrames(loop, track)), gainDb);
  }

  async snippet(asked: number, track: Track, seconds: number, gainDb: number): Promise<void> {
    await this.feed(asked, track, (sounding) => sounding.snippet(seconds), gainDb);
  }

  private async feed(asked: number, track: Track, run: (sounding: Sounding) => Promise<void>, gainDb: number) {
    const mine = ++this.going;
    this.needs.ring.jump();
    try {
      await run(new Sounding(asked, track, dbToGain(gainDb), this.needs, this.reader, () => this.going === mine));
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
  private readonly resampler: Resampler | undefined;
  private readonly meter: LiveMeter;
  /** The ring's frame at which it started. */
  private readonly first: number;
  private fed = 0;

  constructor(
    private readonly asked: number,
    private readonly track: Track,
    private readonly gain: number,
    private readonly needs: FeederNeeds,
    private readonly reader: SampleReader,
    private readonly wanted: () => boolean,
  ) {
    const { sampleRateHz, channels } = track;
    const { ring, rateHz, say } = needs;
    this.first = ring.written;
    this.resampler = sampleRateHz === rateHz ? undefined : new Resampler(sampleRateHz, rateHz, channels);
    this.meter = new LiveMeter({ sampleRateHz, channels }, (reading, frames) =>
      say({ type: 'reading', asked, frame: this.ringFrame(frames), reading }),
    );
  }

  async run(seconds: number, loop: { start: number; end: number } | null): Promise<void> {
    const { frames, sampleRateHz } = this.track;
    let at = Math.min(frames, Math.max(0, Math.round(seconds * sampleRateHz)));
    // who starts behind a loop's end hears on to the file's end
    const end = loop && at < loop.end ? loop.end : frames;
    while (this.wanted()) {
      this.sayPlace(at);
      const before = this.fed;
      for await (const block of boxedFrames(this.reader, this.track, at, end)) {
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
    for await (const block of boxedFrames(this.reader, this.track, start, end)) {
      if (!this.wanted()) return;
      const gain = (i: number) => Math.min(1, (at + i - start) / fade, (end - at - i) / fade);
      this.hear(block.map((channel) => channel.map((x, i) => x * gain(i))));
      at += framesOf(block);
    }
    if (this.wanted()) this.write(this.resampler?.flush());
  }

  private hear(block: Block): void {
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
    this.needs.ring.write(left, right, this.gain);
  }

  /** Waits until the ring wants more; false where nobody wants this any more. */
  private async hasRoom(): Promise<boolean> {
    const { ring, rateHz } = this.needs;
    // a piece may grow when it is resampled: half the ring stays free for it
    const most = Math.min(AHEAD_SECONDS * rateHz, RING_FRAMES / 2);
    while (this.wanted() && ring.ahead > most)
      await new Promise((resolve) => setTimeout(resolve, ring.playing ? WAIT_MS : PAUSED_WAIT_MS));
    return this.wanted();
  }

  private sayPlace(at: number): void {
    const seconds = at / this.track.sampleRateHz;
    this.needs.say({ type: 'place', asked: this.asked, frame: this.ringFrame(this.fed), seconds });
  }

  private ringFrame(fedFrames: number): number {
    return (this.first + Math.round((fedFrames * this.needs.rateHz) / this.track.sampleRateHz)) | 0;
  }
}

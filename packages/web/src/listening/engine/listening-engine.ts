import type { MeterReading } from '@tonos/core';
import { WatchedWorker } from '../../modules/index.ts';
import type { FromFeeder, Going, ToFeeder, Traces, Track } from './messages.ts';
import workletUrl from './ring-worklet.ts?worker&url';
import { framesBetween, type RingMemory, ringMemory, SharedRing } from './shared-ring.ts';
import { whyNoSound } from './why-no-sound.ts';

/** How long the device stays open after the last sound. */
const IDLE_MS = 5000;

export interface EngineEvents {
  ended(): void;
  trouble(message: string): void;
}

type Timed<T> = T & { frame: number };

/** The page's side of listening: a sound device, the worklet on it, and the worker that feeds both. */
export class ListeningEngine {
  private readonly ring: SharedRing;
  private asked = 0;
  private places: Timed<{ seconds: number; speed: number }>[] = [];
  private readings: Timed<{ reading: MeterReading; traces: Traces }>[] = [];
  private shown: { reading: MeterReading; traces: Traces } | null = null;
  private end: number | null = null;
  private askedSeconds = 0;
  private feeder: WatchedWorker<ToFeeder>;
  private idle: ReturnType<typeof setTimeout> | undefined;

  /** Opens the device, still without sound. */
  static async open(events: EngineEvents): Promise<ListeningEngine> {
    const why = whyNoSound(window);
    if (why) throw new Error(why);
    const context = new AudioContext({ latencyHint: 'interactive' });
    await context.audioWorklet.addModule(workletUrl);
    const memory = ringMemory();
    const node = new AudioWorkletNode(context, 'tonos-ring', {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions: memory,
    });
    node.connect(context.destination);
    return new ListeningEngine(context, memory, events);
  }

  private constructor(
    private readonly context: AudioContext,
    private readonly memory: RingMemory,
    private readonly events: EngineEvents,
  ) {
    this.ring = new SharedRing(memory);
    this.feeder = this.startFeeder();
  }

  private startFeeder(): WatchedWorker<ToFeeder> {
    const start = () => {
      const worker = new Worker(new URL('./feeder-worker.ts', import.meta.url), { type: 'module' });
      worker.onmessage = ({ data }: MessageEvent<FromFeeder>) => this.take(data);
      worker.onerror = () => this.events.trouble('The sound thread stopped. Load the page again.');
      return worker;
    };
    const { memory, context } = this;
    return new WatchedWorker<ToFeeder>(
      start,
      (watch) => ({ type: 'start', ring: memory, rateHz: context.sampleRate, watch }),
      (said) => {
        this.feeder = this.startFeeder();
        this.events.trouble(said);
      },
    );
  }

  /** From here on, sounding at once if it is playing. */
  go(going: Going): void {
    this.startOver(going.seconds);
    this.tell({ type: 'go', asked: this.asked, ...going });
  }

  /** A short piece at a place, for finding by ear; then silence. */
  snippet(track: Track, seconds: number, gainDb: number): void {
    this.startOver(seconds);
    this.tell({ type: 'snippet', asked: this.asked, track, seconds, gainDb });
    this.play();
  }

  play(): void {
    clearTimeout(this.idle);
    this.ring.playing = true;
    void this.context.resume();
  }

  pause(): void {
    this.ring.playing = false;
    clearTimeout(this.idle);
    this.idle = setTimeout(() => void this.context.suspend(), IDLE_MS);
  }

  /** Where the sound is now, in seconds of what is heard. Call it with every frame drawn: the end is seen here. */
  position(): number {
    if (this.ring.jumpPending) return this.askedSeconds;
    const late = Math.round((this.context.outputLatency || 0) * this.context.sampleRate);
    const read = this.ring.read;
    if (this.end !== null && framesBetween(this.end, read) >= 0) {
      this.end = null;
      this.events.ended();
    }
    while (this.places.length > 1 && framesBetween(this.places[1].frame, read - late) >= 0) this.places.shift();
    const [place] = this.places;
    if (!place) return this.askedSeconds;
    const since = Math.max(0, framesBetween(place.frame, read - late)) / this.context.sampleRate;
    return place.seconds + since * place.speed;
  }

  /** What the meters show of what sounds now. */
  reading(): { reading: MeterReading; traces: Traces } | null {
    const { read } = this.ring;
    while (this.readings.length && framesBetween(this.readings[0].frame, read) >= 0)
      this.shown = this.readings.shift()!;
    return this.shown;
  }

  /** Goes on from where it is, with the track's other steps or programme, and at another level. */
  change(track: Track, gainDb: number): void {
    this.tell({ type: 'change', asked: this.asked, track, gainDb });
  }

  /** @param deviceId '' is the system's own choice */
  async soundOn(deviceId: string): Promise<void> {
    await (this.context as AudioContext & { setSinkId(id: string): Promise<void> }).setSinkId(deviceId);
  }

  private startOver(seconds: number): void {
    this.asked++;
    this.askedSeconds = seconds;
    this.places = [];
    this.readings = [];
    this.shown = null;
    this.end = null;
  }

  private take(message: FromFeeder): void {
    if (message.type === 'trouble') this.events.trouble(message.message);
    else if (message.asked !== this.asked) return;
    else if (message.type === 'place') this.places.push(message);
    else if (message.type === 'reading') this.readings.push(message);
    else this.end = message.frame;
  }

  private tell(message: ToFeeder): void {
    this.feeder.tell(message);
  }
}

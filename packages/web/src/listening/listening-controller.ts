import type { Middleware } from '@reduxjs/toolkit';
import type { TimeSpan } from '@tonos/core';
import { sayError } from '../ui/notify.ts';
import type { EngineEvents, ListeningEngine } from './engine/listening-engine.ts';
import type { LiveSteps, Track } from './engine/messages.ts';
import { matchGainDb } from './level-match.ts';
import { listeningSeconds, setListeningSeconds, setMeterReading, setTraces } from './listening-clock.ts';
import {
  type Listened,
  type ListeningState,
  listeningSlice,
  liveOf,
  playableOf,
  type Side,
} from './listening-slice.ts';

const { playingChanged, seekAsked } = listeningSlice.actions;

type Engine = Pick<
  ListeningEngine,
  'go' | 'snippet' | 'change' | 'play' | 'pause' | 'position' | 'reading' | 'soundOn'
>;
type Told = ReturnType<typeof playingChanged> | ReturnType<typeof seekAsked>;

interface ControllerNeeds {
  open(events: EngineEvents): Promise<Engine>;
  fail(title: string, error: unknown): void;
}

/** What sounds: a track, the steps that it goes through, and its level. */
interface Sound {
  track: Track | null;
  live: LiveSteps | undefined;
  gainDb: number;
}

const SILENCE: Sound = { track: null, live: undefined, gainDb: 0 };

/**
 * P19: has the one engine of a page do what was asked for, at once and in the order of asking; the store is told what became of it. It goes on
 * sounding while pages change.
 */
export class ListeningController {
  /** Takes what the store is told. */
  tell: (told: Told) => void = () => {};
  private engine: Promise<Engine> | undefined;
  private failed: Promise<Engine> | undefined;
  private sound = SILENCE;
  /** A short piece sounds, or has sounded: playing on begins anew. */
  private isSnippet = false;
  private following = 0;
  private known: { listened: Listened; side: Side; live: LiveSteps | undefined } | undefined;

  constructor(private readonly needs: ControllerNeeds) {}

  /** Makes the device and its thread ready while nobody waits for them. */
  warm(): void {
    this.opened().catch(() => {}); // said when somebody wants to hear
  }

  /** What was asked for, and what is now. */
  obey(before: ListeningState, now: ListeningState): void {
    const { listened, side, playing, loop } = now;
    const sound = listened ? this.soundOf(listened, side, now.levelMatched) : SILENCE;
    if (now.deviceId !== before.deviceId) this.soundOn(now.deviceId);
    const asked = now.seekAsked === before.seekAsked ? null : now.seekAsked;
    if (sound.track && (asked || loop !== before.loop || this.isOther(sound))) {
      const isBehind = loop && playing && !asked && !isInside(loop, listeningSeconds());
      const seconds = asked?.seconds ?? (isBehind ? loop.startSeconds : listeningSeconds());
      this.begin(sound, seconds, loop, asked?.snippet ?? false);
    } else if (sound.track && isChanged(sound, this.sound)) this.change(sound);
    this.sound = sound;
    const wasPlaying = before.playing && before.listened !== null;
    const isPlaying = playing && sound.track !== null;
    if (isPlaying && !wasPlaying) this.play(loop);
    if (!isPlaying && wasPlaying) this.pause();
  }

  private soundOf(listened: Listened, side: Side, levelMatched: boolean): Sound {
    if (this.known?.listened !== listened || this.known.side !== side)
      this.known = { listened, side, live: liveOf(listened, side) };
    const gainDb = levelMatched ? matchGainDb(listened, side) : 0;
    return { track: playableOf(listened, side).track, live: this.known.live, gainDb };
  }

  /** Whether it begins anew, where it is not the same sound that was only changed. */
  private isOther({ track, live, gainDb }: Sound): boolean {
    const before = this.sound;
    if (track?.programme) return track.url !== before.track?.url;
    if (track !== before.track) return true;
    // what is edited goes on, whatever its level
    return !live && !before.live && gainDb !== before.gainDb;
  }

  private begin({ track, live, gainDb }: Sound, seconds: number, loop: TimeSpan | null, snippet: boolean): void {
    this.isSnippet = snippet;
    setListeningSeconds(seconds);
    this.with((engine) =>
      snippet
        ? engine.snippet(track!, seconds, gainDb)
        : engine.go({ track: { ...track!, live }, seconds, loop, gainDb }),
    );
  }

  private change({ track, live, gainDb }: Sound): void {
    this.with((engine) => engine.change({ ...track!, live }, gainDb));
  }

  private play(loop: TimeSpan | null): void {
    if (this.isSnippet) this.begin(this.sound, listeningSeconds(), loop, false);
    const mine = ++this.following;
    this.with((engine) => {
      if (mine !== this.following) return;
      engine.play();
      const follow = () => {
        if (mine !== this.following) return;
        setListeningSeconds(engine.position());
        const now = engine.reading();
        setMeterReading(now?.reading ?? null);
        if (now) setTraces(now.traces);
        requestAnimationFrame(follow);
      };
      follow();
    });
  }

  private pause(): void {
    this.following++;
    // without a device there is nothing to pause
    this.engine?.then((engine) => engine.pause()).catch(() => {});
  }

  private soundOn(deviceId: string): void {
    if (!this.engine && !deviceId) return;
    this.opened()
      .then((engine) => engine.soundOn(deviceId))
      .catch((error) => this.needs.fail('That sound device can\u2019t be used', error));
  }

  /** In the order of asking: each waits for the device, and for nothing else. */
  private with(act: (engine: Engine) => void): void {
    const opening = this.opened();
    opening.then(act).catch((error) => {
      // what several asked of one device is said once
      if (this.failed === opening) return;
      this.failed = opening;
      this.stopped(error);
    });
  }

  private opened(): Promise<Engine> {
    this.engine ??= this.needs.open({
      ended: () => {
        this.tell(playingChanged(false));
        this.tell(seekAsked(0));
      },
      trouble: (message) => this.stopped(new Error(message)),
    });
    this.engine.catch(() => {
      this.engine = undefined; // tried again at the next press
    });
    return this.engine;
  }

  private stopped(error: unknown): void {
    this.tell(playingChanged(false));
    this.needs.fail('The sound stopped', error);
  }
}

const isChanged = (a: Sound, b: Sound): boolean =>
  (a.live !== undefined || b.live !== undefined || a.track?.programme !== undefined) &&
  (a.track !== b.track || a.live !== b.live || a.gainDb !== b.gainDb);

const isInside = ({ startSeconds, endSeconds }: TimeSpan, seconds: number): boolean =>
  seconds >= startSeconds && seconds < endSeconds;

/** Puts a controller beside a store: what is dispatched is obeyed as soon as it is in. */
export const obeyedBy =
  (controller: ListeningController): Middleware<object, { listening: ListeningState }> =>
  (store) => {
    controller.tell = (told) => store.dispatch(told);
    return (next) => (action) => {
      const before = store.getState().listening;
      const result = next(action);
      const now = store.getState().listening;
      if (now !== before) controller.obey(before, now);
      return result;
    };
  };

/** The page's own. Its engine is loaded when it is made ready. */
export const listeningController = new ListeningController({
  open: async (events) => (await import('./engine/listening-engine.ts')).ListeningEngine.open(events),
  fail: sayError,
});

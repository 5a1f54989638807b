import { useEffect, useLayoutEffect, useMemo, useRef } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { sayError } from '../ui/notify.ts';
import { ListeningEngine } from './engine/listening-engine.ts';
import type { LiveSteps, Track } from './engine/messages.ts';
import { matchGainDb } from './level-match.ts';
import { listeningSeconds, setListeningSeconds, setMeterReading, setTraces } from './listening-clock.ts';
import { listeningSlice, liveOf, playableOf } from './listening-slice.ts';

const { playingChanged, seekAsked: askSeek } = listeningSlice.actions;

/** One for the page: it goes on sounding while pages change. */
let opened: Promise<ListeningEngine> | undefined;
const on = { ended: () => {}, trouble: (_: string) => {} };

function engine(): Promise<ListeningEngine> {
  opened ??= ListeningEngine.open({ ended: () => on.ended(), trouble: (message) => on.trouble(message) });
  opened.catch(() => {
    opened = undefined; // tried again at the next press
  });
  return opened;
}

/** Makes the engine do what the store says, and the clock and meters show what it does. */
export function usePlayer(): void {
  const dispatch = useAppDispatch();
  const { listened, side, playing, levelMatched, loop, seekAsked, deviceId } = useAppSelector(
    (state) => state.listening,
  );
  const track = listened && playableOf(listened, side).track;
  const live = useMemo(() => (listened ? liveOf(listened, side) : undefined), [listened, side]);
  // what changes while it sounds: nothing starts again
  const isLive = listened?.chain !== undefined || track?.programme !== undefined;
  const gainDb = listened && levelMatched ? matchGainDb(listened, side) : 0;
  const heard = useRef({ seekAsked, snippet: false });
  /** What the engine was told last. */
  const gone = useRef<{ track: Track | null; live?: LiveSteps; gainDb: number }>({ track: null, gainDb: 0 });

  useEffect(() => {
    const sayTrouble = (error: unknown) => {
      dispatch(playingChanged(false));
      sayError('The sound stopped', error);
    };
    on.trouble = (message) => sayTrouble(new Error(message));
    on.ended = () => {
      dispatch(playingChanged(false));
      dispatch(askSeek(0));
    };
    // the device and its thread are made ready while nobody waits for them
    const timer = setTimeout(() => void engine().catch(() => {}), 500);
    return () => clearTimeout(timer);
  }, [dispatch]);

  useEffect(() => {
    const isHeard = gone.current.track === track && gone.current.live === live && gone.current.gainDb === gainDb;
    if (!isLive || !track || isHeard) return;
    gone.current = { track, live, gainDb };
    void opened?.then((one) => one.change({ ...track, live }, gainDb));
  }, [live, gainDb, isLive, track]);

  // before the page is painted: sound should not wait for pictures
  // biome-ignore lint/correctness/useExhaustiveDependencies: playing alone changes nothing of what is asked for
  useLayoutEffect(() => {
    if (!track) return;
    const asked = seekAsked && seekAsked !== heard.current.seekAsked ? seekAsked : null;
    const repeated = loop && playing && !asked && outside(loop, listeningSeconds()) ? loop.startSeconds : null;
    const seconds = asked?.seconds ?? repeated ?? listeningSeconds();
    heard.current.seekAsked = seekAsked;
    heard.current.snippet = asked?.snippet ?? false;
    setListeningSeconds(seconds);
    gone.current = { track, live, gainDb };
    void engine()
      .then((one) =>
        asked?.snippet
          ? one.snippet(track, seconds, gainDb)
          : one.go({ track: { ...track, live }, seconds, loop, gainDb }),
      )
      .catch(on.trouble);
  }, [track?.programme ? track.url : track, isLive ? 0 : gainDb, loop, seekAsked]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked for has an effect of its own
  useLayoutEffect(() => {
    if (!playing || !track) return;
    let frame = 0;
    let wanted = true;
    void engine()
      .then((one) => {
        if (!wanted) return;
        if (heard.current.snippet) one.go({ track: { ...track, live }, seconds: listeningSeconds(), loop, gainDb });
        heard.current.snippet = false;
        one.play();
        const follow = () => {
          setListeningSeconds(one.position());
          const now = one.reading();
          setMeterReading(now?.reading ?? null);
          if (now) setTraces(now.traces);
          frame = requestAnimationFrame(follow);
        };
        follow();
      })
      .catch((error: Error) => on.trouble(error.message));
    return () => {
      wanted = false;
      cancelAnimationFrame(frame);
      void opened?.then((one) => one.pause());
    };
  }, [playing, track === null]);

  useEffect(() => {
    if (!opened && !deviceId) return;
    void engine()
      .then((one) => one.soundOn(deviceId))
      .catch((error) => sayError('That sound device can\u2019t be used', error));
  }, [deviceId]);
}

const outside = ({ startSeconds, endSeconds }: { startSeconds: number; endSeconds: number }, seconds: number) =>
  seconds < startSeconds || seconds >= endSeconds;

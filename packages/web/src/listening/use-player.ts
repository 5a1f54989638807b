import { useCallback, useEffect, useRef } from 'react';
import { setListeningSeconds } from './listening-clock.ts';
import type { Listened, Side } from './listening-slice.ts';

/**
 * Plays one of the two sides through the browser's own decoder. Both are loaded, so that changing sides goes on at the
 * same place at once.
 */
export function usePlayer(
  listened: Listened,
  side: Side,
  playing: boolean,
  gainDb: number,
  onEnd: () => void,
): { seek(seconds: number): void } {
  const players = useRef<Record<Side, HTMLAudioElement> | null>(null);
  const sourceUrl = listened.source.url;
  const resultUrl = listened.result?.url;
  const lastSide = useRef(side);
  const ended = useRef(onEnd);
  ended.current = onEnd;

  useEffect(() => {
    const make = (url: string | undefined) => {
      const audio = new Audio();
      audio.preload = 'auto';
      if (url) audio.src = url;
      audio.onended = () => {
        audio.currentTime = 0;
        ended.current();
      };
      return audio;
    };
    const made = { source: make(sourceUrl), result: make(resultUrl) };
    players.current = made;
    setListeningSeconds(0);
    return () => {
      for (const audio of Object.values(made)) {
        audio.pause();
        audio.removeAttribute('src');
      }
      players.current = null;
    };
  }, [sourceUrl, resultUrl]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: new addresses mean new players, which start as the old ones stood
  useEffect(() => {
    const all = players.current;
    if (!all) return;
    const active = all[side];
    const other = all[side === 'source' ? 'result' : 'source'];
    if (lastSide.current !== side) active.currentTime = other.currentTime;
    lastSide.current = side;
    other.pause();
    active.volume = Math.min(1, 10 ** (gainDb / 20));
    if (playing) active.play().catch(() => ended.current());
    else active.pause();
    let frame = 0;
    const follow = () => {
      setListeningSeconds(active.currentTime);
      frame = requestAnimationFrame(follow);
    };
    if (playing) follow();
    return () => cancelAnimationFrame(frame);
  }, [side, playing, gainDb, sourceUrl, resultUrl]);

  const seek = useCallback((to: number) => {
    const at = Math.max(0, to);
    for (const audio of Object.values(players.current ?? {})) if (audio.src) audio.currentTime = at;
    setListeningSeconds(at);
  }, []);
  return { seek };
}

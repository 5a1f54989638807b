import { useEffect, useRef } from 'react';
import { useAppSelector } from '../../app/store.ts';
import { useListeningSeconds } from '../../listening/listening-clock.ts';
import { shareAt, type TimeRange } from '../../plots/time-axis.ts';
import classes from './Bench.module.css';

interface PlayheadProps {
  recordingId: string;
  range: TimeRange;
  /** Shows later moments. */
  move(bySeconds: number): void;
}

/** Where the sound is. A plate that showed it turns its page when the sound runs out of it. */
export function Playhead({ recordingId, range, move }: PlayheadProps) {
  const seconds = useListeningSeconds();
  const { playing, listened } = useAppSelector((state) => state.listening);
  const overview = listened?.source.overview;
  const own = !!overview && 'recordingId' in overview && overview.recordingId === recordingId;
  const share = shareAt(range, seconds);
  const last = useRef(share);
  useEffect(() => {
    const ranOut = last.current <= 1 && share > 1 && share < 1.2;
    last.current = share;
    if (own && playing && ranOut) move(0.9 * (range.toSeconds - range.fromSeconds));
  }, [own, playing, share, range, move]);
  return own && share >= 0 && share <= 1 ? (
    <div className={classes.playhead} style={{ left: `${100 * share}%` }} />
  ) : null;
}

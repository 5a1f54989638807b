import { type RefObject, useCallback, useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { moved, secondsAt, type TimeRange, zoomed } from '../../plots/time-axis.ts';

const ZOOM = 0.6;
const STEP = 0.2;

export interface ShownRange {
  range: TimeRange;
  show(range: TimeRange): void;
  /** To other moments at the same zoom. */
  move(bySeconds: number): void;
}

/** The part of a recording that a plate shows: changed by the wheel over it, and by keys. */
export function useTimeRange(total: number, plate: RefObject<HTMLElement | null>): ShownRange {
  const [range, setRange] = useState<TimeRange>({ fromSeconds: 0, toSeconds: total });
  const show = useCallback(
    ({ fromSeconds, toSeconds }: TimeRange) =>
      setRange(zoomed({ fromSeconds, toSeconds }, (fromSeconds + toSeconds) / 2, 1, total)),
    [total],
  );
  const move = useCallback((by: number) => setRange((now) => moved(now, by, total)), [total]);
  const zoom = (factor: number) => setRange((now) => zoomed(now, secondsAt(now, 0.5), factor, total));
  const step = (share: number) => setRange((now) => moved(now, share * (now.toSeconds - now.fromSeconds), total));
  useHotkeys(['+', '='], () => zoom(ZOOM), { useKey: true });
  useHotkeys('-', () => zoom(1 / ZOOM), { useKey: true });
  useHotkeys('0', () => setRange({ fromSeconds: 0, toSeconds: total }));
  useHotkeys('left', () => step(-STEP), { preventDefault: true });
  useHotkeys('right', () => step(STEP), { preventDefault: true });
  useHotkeys('home', () => step(-1e9), { preventDefault: true });
  useHotkeys('end', () => step(1e9), { preventDefault: true });

  // React's own wheel listener is passive and could not keep the page from scrolling
  useEffect(() => {
    const element = plate.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const share = (event.clientX - box.left) / box.width;
      const sideways = event.shiftKey && !event.deltaX ? event.deltaY : event.deltaX;
      setRange((now) =>
        event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)
          ? moved(now, (sideways / box.width) * (now.toSeconds - now.fromSeconds), total)
          : zoomed(now, secondsAt(now, share), 1.0022 ** event.deltaY, total),
      );
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [plate, total]);
  return { range, show, move };
}

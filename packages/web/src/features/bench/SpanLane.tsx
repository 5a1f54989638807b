import { type PointerEvent, useRef, useState } from 'react';
import { shareAt, type TimeRange } from '../../plots/time-axis.ts';
import classes from './Marks.module.css';

/** What lies in a lane. */
export interface LaneSpan {
  id: string;
  name: string;
  startSeconds: number;
  endSeconds: number;
  /** Said while it is pointed at. */
  hint?: string;
  /** Is there and does nothing. */
  off?: boolean;
}

export type SpanMove = Partial<Pick<LaneSpan, 'startSeconds' | 'endSeconds'>>;

interface SpanLaneProps {
  /** What the lane holds: "Marks". */
  label: string;
  look: 'mark' | 'cut';
  spans: readonly LaneSpan[];
  range: TimeRange;
  totalSeconds: number;
  /** The lane's width in pixels. */
  width: number;
  onChoose(span: LaneSpan): void;
  onMove(span: LaneSpan, change: SpanMove): void;
}

const LEAST_HANDLES_PX = 12;

type Part = 'whole' | 'start' | 'end';

/** Spans over the picture; one is dragged as a whole or by its ends. */
export function SpanLane({ label, look, spans, range, totalSeconds, width, onChoose, onMove }: SpanLaneProps) {
  const [dragged, setDragged] = useState<{ id: string; change: SpanMove } | null>(null);
  const held = useRef<{ x: number; mark: LaneSpan; part: Part } | null>(null);
  const press = (mark: LaneSpan, part: Part) => (event: PointerEvent) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { x: event.clientX, mark, part };
  };
  const move = (event: PointerEvent) => {
    if (!held.current) return;
    event.stopPropagation();
    const { x, mark, part } = held.current;
    const wanted = ((event.clientX - x) / width) * (range.toSeconds - range.fromSeconds);
    const by = Math.max(-mark.startSeconds, Math.min(totalSeconds - mark.endSeconds, wanted));
    if (Math.abs(event.clientX - x) < 3 && !dragged) return;
    const change =
      part === 'whole'
        ? { startSeconds: mark.startSeconds + by, endSeconds: mark.endSeconds + by }
        : part === 'start'
          ? { startSeconds: Math.max(0, mark.startSeconds + wanted) }
          : { endSeconds: Math.min(totalSeconds, mark.endSeconds + wanted) };
    setDragged({ id: mark.id, change });
  };
  const release = (event: PointerEvent) => {
    if (!held.current) return;
    event.stopPropagation();
    const { mark } = held.current;
    held.current = null;
    if (dragged) onMove(mark, dragged.change);
    else onChoose(mark);
    setDragged(null);
  };
  const percent = (seconds: number) => 100 * shareAt(range, seconds);
  return (
    <section className={classes.lane} data-look={look} aria-label={label}>
      {spans.map((kept) => {
        const mark = dragged?.id === kept.id ? { ...kept, ...dragged.change } : kept;
        const [start, end] = [mark.startSeconds, mark.endSeconds].sort((a, b) => a - b);
        const left = percent(start);
        const wide = percent(end) - left;
        if (left > 100 || left + wide < 0) return null;
        // ends that lie on each other can't be taken hold of
        const isRange = (wide / 100) * width > LEAST_HANDLES_PX;
        const handle = (part: 'start' | 'end') => (
          <span
            className={part === 'start' ? classes.start : classes.end}
            onPointerDown={press(kept, part)}
            onPointerMove={move}
            onPointerUp={release}
          />
        );
        return (
          <div
            key={kept.id}
            className={classes.mark}
            data-off={kept.off || undefined}
            style={{ left: `${left}%`, width: `${wide}%` }}
          >
            <button
              type="button"
              className={classes.name}
              title={`${mark.hint ?? mark.name}: drag to move, press to choose`}
              onPointerDown={press(kept, 'whole')}
              onPointerMove={move}
              onPointerUp={release}
              onClick={(event) => event.detail === 0 && onChoose(kept)}
            >
              {mark.name}
            </button>
            {isRange && handle('start')}
            {isRange && handle('end')}
          </div>
        );
      })}
    </section>
  );
}

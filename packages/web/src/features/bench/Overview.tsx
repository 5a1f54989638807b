import type { TimeRange } from '../../plots/time-axis.ts';
import { Wave } from '../../plots/Wave.tsx';
import classes from './Bench.module.css';

interface OverviewProps {
  columns: readonly (readonly [number, number])[];
  range: TimeRange;
  total: number;
  onMove(centreSeconds: number): void;
}

/** The whole recording, and which part of it the plate shows. */
export function Overview({ columns, range, total, onMove }: OverviewProps) {
  const centre = (event: React.PointerEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    onMove(((event.clientX - box.left) / box.width) * total);
  };
  return (
    <div
      className={classes.overview}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        centre(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && centre(event)}
    >
      <Wave columns={columns} height={40} />
      <div
        className={classes.shown}
        style={{
          left: `${(100 * range.fromSeconds) / total}%`,
          width: `${(100 * (range.toSeconds - range.fromSeconds)) / total}%`,
        }}
      />
    </div>
  );
}

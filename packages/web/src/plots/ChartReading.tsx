import type { TooltipContentProps } from 'recharts';
import classes from './Chart.module.css';

interface ChartReadingProps extends Partial<TooltipContentProps> {
  /** The place on the axis in words. */
  head(place: number): string;
  /** One value in words; null leaves it out. */
  text(value: unknown, name: string): string | null;
}

/** What a chart says of the place under the pointer. */
export function ChartReading({ active, label, payload, head, text }: ChartReadingProps) {
  if (!active || !payload?.length) return null;
  return (
    <div className={classes.reading}>
      <div>{head(Number(label))}</div>
      {payload.map(({ name, value }) => {
        const said = text(value, String(name));
        return said === null ? null : <div key={String(name)}>{said}</div>;
      })}
    </div>
  );
}

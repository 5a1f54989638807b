import type { Storage } from '@tonos/contract';
import { Bar, BarChart, Legend, Tooltip, XAxis, YAxis } from 'recharts';
import classes from '../../plots/Chart.module.css';
import { ChartReading } from '../../plots/ChartReading.tsx';
import { AXIS, STILL } from '../../plots/chart-look.ts';
import { sizeText } from '../../ui/size-text.ts';

const MOST_TITLES = 12;
const ROW_PX = 30;
const MOST_LETTERS = 26;

const shortened = (name: string) => (name.length > MOST_LETTERS ? `${name.slice(0, MOST_LETTERS - 1)}\u2026` : name);

/** Where the room on the disk has gone: the largest titles, sources beside deliveries. The table below has the figures. */
export function StorageChart({ titles }: { titles: Storage['titles'] }) {
  const rows = titles
    .filter(({ sourceBytes, deliveredBytes }) => sourceBytes + deliveredBytes > 0)
    .toSorted((a, b) => b.sourceBytes + b.deliveredBytes - a.sourceBytes - a.deliveredBytes)
    .slice(0, MOST_TITLES)
    .map(({ name, sourceBytes, deliveredBytes }) => ({ name, sources: sourceBytes, deliveries: deliveredBytes }));
  if (rows.length < 2) return null;
  const bar = { stackId: 'bytes', maxBarSize: 16, isAnimationActive: false } as const;
  return (
    <div className={`${classes.chart} ${classes.apart}`} aria-hidden>
      <BarChart
        {...STILL}
        layout="vertical"
        data={rows}
        margin={{ top: 0, right: 24, bottom: 0, left: 0 }}
        style={{ height: 56 + ROW_PX * rows.length }}
      >
        <XAxis {...AXIS} type="number" tickCount={5} tickFormatter={sizeText} height={22} />
        <YAxis
          {...AXIS}
          type="category"
          dataKey="name"
          width={190}
          tickFormatter={shortened}
          tick={{ ...AXIS.tick, fontFamily: 'var(--word)', fontSize: 13 }}
          axisLine={false}
        />
        <Bar {...bar} dataKey="sources" fill="var(--rule-strong)" />
        <Bar {...bar} dataKey="deliveries" fill="var(--act)" />
        <Legend
          verticalAlign="top"
          align="right"
          itemSorter={null}
          iconType="square"
          iconSize={9}
          formatter={(name: string) => <span className={classes.key}>{name}</span>}
        />
        <Tooltip
          isAnimationActive={false}
          cursor={{ fill: 'var(--wash)' }}
          content={({ label, ...rest }) => (
            <ChartReading
              {...rest}
              label={label}
              head={() => String(label)}
              text={(bytes, name) => `${name} ${sizeText(Number(bytes))}`}
            />
          )}
        />
      </BarChart>
    </div>
  );
}

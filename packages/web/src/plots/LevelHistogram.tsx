import { figure, type LongTermSpectrum } from '@tonos/core';
import { Bar, BarChart, Tooltip, XAxis } from 'recharts';
import classes from './Chart.module.css';
import { ChartReading } from './ChartReading.tsx';
import { AXIS, STILL } from './chart-look.ts';
import { ReadersTable } from './ReadersTable.tsx';

const FROM_DB = -90;
const HEIGHT = 82;
const TICKS = [-80, -60, -40, -20, 0];

/** How much of a recording has each level: the room and the voice stand apart as two hills. */
export function LevelHistogram({ bottomDb, stepDb, counts }: LongTermSpectrum['levels']) {
  const all = Math.max(
    1,
    counts.reduce((sum, count) => sum + count, 0),
  );
  const bars = counts
    .map((count, i) => ({ db: bottomDb + (i + 0.5) * stepDb, percent: (100 * count) / all }))
    .filter(({ db }) => db >= FROM_DB);
  const rangeText = (db: number) => `${figure(db - stepDb / 2, 0)} to ${figure(db + stepDb / 2, 0)} dBFS`;
  return (
    <>
      <div className={classes.chart} aria-hidden>
        <BarChart
          {...STILL}
          data={bars}
          margin={{ top: 4, right: 8, bottom: 0, left: 8 }}
          barCategoryGap={1}
          style={{ height: HEIGHT }}
        >
          <XAxis
            {...AXIS}
            type="number"
            dataKey="db"
            domain={[FROM_DB, 0]}
            ticks={TICKS}
            interval={0}
            height={18}
            tickFormatter={(db: number) => figure(db, 0)}
          />
          <Bar dataKey="percent" fill="var(--wave)" isAnimationActive={false} />
          <Tooltip
            isAnimationActive={false}
            cursor={{ fill: 'var(--wash)' }}
            content={<ChartReading head={rangeText} text={(percent) => `${figure(Number(percent))} % of the time`} />}
          />
        </BarChart>
      </div>
      <ReadersTable
        caption="How often each level occurs"
        heads={['Level', 'Share of the time']}
        rows={bars
          .filter(({ percent }) => percent >= 0.05)
          .map(({ db, percent }) => [rangeText(db), `${figure(percent)} %`])}
      />
    </>
  );
}

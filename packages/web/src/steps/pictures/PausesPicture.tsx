import { figure, type ShortenedPause } from '@tonos/core';
import { Bar, BarChart, CartesianGrid, ReferenceLine, Tooltip, XAxis, YAxis } from 'recharts';
import { ChartReading } from '../../plots/ChartReading.tsx';
import { AXIS, RULES } from '../../plots/chart-look.ts';
import { ReadersTable } from '../../plots/ReadersTable.tsx';
import { clock } from '../../ui/time.ts';
import classes from './Pictures.module.css';

const WIDTH = 620;
const HEIGHT = 170;
/** More are too fine to be told apart: then the longest are drawn, in their order. */
const MOST_BARS = 140;
/** A shorter one is as it was. */
const CHANGED_SECONDS = 0.001;

interface PausesPictureProps {
  pauses: readonly ShortenedPause[];
  longestSeconds: number;
}

/** Every pause as a bar: what stays of it, and above that what is taken out. */
export function PausesPicture({ pauses, longestSeconds }: PausesPictureProps) {
  const changed = pauses.filter((one) => one.beforeSeconds - one.afterSeconds > CHANGED_SECONDS);
  const taken = changed.reduce((sum, one) => sum + one.beforeSeconds - one.afterSeconds, 0);
  const drawn = [...pauses]
    .sort((a, b) => b.beforeSeconds - a.beforeSeconds)
    .slice(0, MOST_BARS)
    .sort((a, b) => a.startSeconds - b.startSeconds)
    .map((one, i) => ({ ...one, place: i, taken: one.beforeSeconds - one.afterSeconds }));
  const reading = (place: unknown) => clock(drawn[Number(place)]?.startSeconds ?? 0, 1);
  return (
    <figure className={classes.figure}>
      <div aria-hidden>
        <BarChart
          accessibilityLayer={false}
          width={WIDTH}
          height={HEIGHT}
          margin={{ top: 8, right: 8, bottom: 4, left: 0 }}
          barCategoryGap={drawn.length > 60 ? 1 : '20%'}
          maxBarSize={28}
          data={drawn}
        >
          <CartesianGrid {...RULES} vertical={false} />
          <XAxis hide dataKey="place" />
          <YAxis {...AXIS} axisLine={false} width={34} tickFormatter={(value: number) => figure(value)} />
          <ReferenceLine y={longestSeconds} stroke="var(--ink)" strokeDasharray="3 3" />
          <Bar dataKey="afterSeconds" name="stays" stackId="pause" fill="var(--act)" isAnimationActive={false} />
          <Bar dataKey="taken" name="taken out" stackId="pause" fill="var(--rule-strong)" isAnimationActive={false} />
          <Tooltip
            isAnimationActive={false}
            cursor={{ fill: 'var(--rule)', fillOpacity: 0.4 }}
            content={<ChartReading head={reading} text={(value, name) => `${name} ${figure(Number(value), 2)} s`} />}
          />
        </BarChart>
      </div>
      <ReadersTable
        caption="Pauses that become shorter"
        heads={['At', 'Before', 'After']}
        rows={changed.map(({ startSeconds, beforeSeconds, afterSeconds }) => [
          clock(startSeconds, 1),
          `${figure(beforeSeconds, 2)} s`,
          `${figure(afterSeconds, 2)} s`,
        ])}
      />
      <figcaption className={classes.caption}>
        <span>
          {changed.length
            ? `${changed.length} of ${pauses.length} pauses become shorter: ${figure(taken)} s are taken out`
            : `none of ${pauses.length} pauses is longer`}
          {pauses.length > MOST_BARS && `; drawn are the ${MOST_BARS} longest`}
        </span>
        <span>
          <span className={classes.keyAfter} /> stays <span className={classes.keyBefore} /> taken out, s
        </span>
      </figcaption>
    </figure>
  );
}

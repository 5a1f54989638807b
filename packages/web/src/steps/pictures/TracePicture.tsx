import { figure } from '@tonos/core';
import { Area, AreaChart, CartesianGrid, Tooltip, XAxis, YAxis } from 'recharts';
import { ChartReading } from '../../plots/ChartReading.tsx';
import { AXIS, RULES } from '../../plots/chart-look.ts';
import { ReadersTable } from '../../plots/ReadersTable.tsx';
import { clock } from '../../ui/time.ts';
import classes from './Pictures.module.css';
import { StretchWave } from './StretchWave.tsx';
import type { StepPicture } from './step-picture.ts';

interface TracePictureProps {
  picture: StepPicture;
  name: string;
  title: string;
  unit: string;
}

const WIDTH = 420;
const WAVE_HEIGHT = 92;
const TRACE_HEIGHT = 84;
const SCALE_WIDTH = 30;
/** A reader is told of so many places. */
const ROWS = 20;

/** What a step did along the stretch: the wave that went in, and its trace below, with the mean and the most. */
export function TracePicture({ picture, name, title, unit }: TracePictureProps) {
  const { stretch } = picture;
  const values = picture.traces[name] ?? [];
  const total = picture.totals[name];
  const most = Math.max(6, Math.ceil((total?.most ?? 0) / 6) * 6);
  const column = (stretch.endSeconds - stretch.startSeconds) / Math.max(1, values.length);
  const rows = values.map((value, i) => ({ seconds: stretch.startSeconds + i * column, value }));
  const text = (value: unknown) => `${title.toLowerCase()} ${figure(Number(value))} ${unit}`;
  const every = Math.max(1, Math.ceil(rows.length / ROWS));
  return (
    <figure className={classes.figure}>
      <StretchWave columns={picture.before} width={WIDTH} height={WAVE_HEIGHT} />
      <div className={classes.traceHead}>
        {title.toLowerCase()}, {unit}
      </div>
      <div aria-hidden>
        <AreaChart
          accessibilityLayer={false}
          width={WIDTH + SCALE_WIDTH}
          height={TRACE_HEIGHT}
          margin={{ top: 6, right: 0, bottom: 6, left: 0 }}
          data={rows}
        >
          <CartesianGrid {...RULES} vertical={false} />
          <XAxis hide type="number" dataKey="seconds" domain={['dataMin', 'dataMax']} />
          <YAxis
            {...AXIS}
            axisLine={false}
            orientation="right"
            width={SCALE_WIDTH}
            reversed
            domain={[0, most]}
            ticks={[0, most / 2, most]}
            interval={0}
            tickFormatter={(value: number) => figure(-value, 0)}
          />
          <Area
            dataKey="value"
            name={title}
            baseValue={0}
            isAnimationActive={false}
            activeDot={{ r: 3 }}
            stroke="none"
            fill="var(--act)"
            fillOpacity={0.75}
          />
          <Tooltip
            isAnimationActive={false}
            content={<ChartReading head={(seconds) => clock(seconds, 1)} text={text} />}
          />
        </AreaChart>
      </div>
      <ReadersTable
        caption={`${title} along the stretch, the most of each part`}
        heads={['From', title]}
        rows={rows
          .filter((_, i) => i % every === 0)
          .map(({ seconds }, i) => [
            clock(seconds, 1),
            `${figure(Math.max(...values.slice(i * every, (i + 1) * every)))} ${unit}`,
          ])}
      />
      <figcaption className={classes.caption}>
        {total && total.most >= 0.05
          ? `while it works ${figure(total.mean)} ${unit} on average, at most ${figure(total.most)} ${unit} at ${clock(total.atSeconds, 1)}`
          : 'it does nothing on this stretch'}
      </figcaption>
    </figure>
  );
}

import type { RunSummary } from '@tonos/contract';
import { figure } from '@tonos/core';
import { Bar, CartesianGrid, ComposedChart, Line, Tooltip, XAxis, YAxis } from 'recharts';
import classes from '../../plots/Chart.module.css';
import { AXIS, RULES, STILL } from '../../plots/chart-look.ts';
import { ReadersTable } from '../../plots/ReadersTable.tsx';
import { valueTicks } from '../../plots/value-ticks.ts';
import { clock, moment } from '../../ui/time.ts';

const MOST_RUNS = 40;
const LEAST_RUNS = 2;
const HEIGHT = 150;

/** How much sound the last runs rendered, and how fast: on one thread, against real time. */
export function RunsChart({ runs }: { runs: readonly RunSummary[] }) {
  const rows = runs
    .filter(({ workSeconds }) => workSeconds > 0)
    .slice(0, MOST_RUNS)
    .map(({ titleName, createdAt, soundSeconds, workSeconds }, i) => ({
      place: -i,
      titleName,
      createdAt,
      minutes: soundSeconds / 60,
      speed: soundSeconds / workSeconds,
    }))
    .reverse();
  if (rows.length < LEAST_RUNS) return null;
  const scale = (of: (row: (typeof rows)[number]) => number) => {
    const ticks = valueTicks([0, ...rows.map(of)], false, 4);
    return { ticks, domain: [0, ticks[ticks.length - 1]] };
  };
  return (
    <figure style={{ margin: '0 0 16px' }}>
      <figcaption className="small quiet">
        Sound rendered, in minutes (bars), and how many times as fast as it plays, on one thread (line). The newest is
        on the right.
      </figcaption>
      <div className={classes.chart} aria-hidden>
        <ComposedChart
          {...STILL}
          data={rows}
          margin={{ top: 8, right: 0, bottom: 0, left: 0 }}
          style={{ height: HEIGHT }}
        >
          <CartesianGrid {...RULES} vertical={false} />
          <XAxis {...AXIS} dataKey="place" tick={false} height={6} />
          <YAxis {...AXIS} {...scale(({ minutes }) => minutes)} yAxisId="minutes" width={44} axisLine={false} />
          <YAxis
            {...AXIS}
            {...scale(({ speed }) => speed)}
            yAxisId="speed"
            orientation="right"
            width={44}
            axisLine={false}
            unit={'\u00d7'}
          />
          <Bar
            yAxisId="minutes"
            dataKey="minutes"
            fill="var(--rule-strong)"
            maxBarSize={28}
            isAnimationActive={false}
          />
          <Line
            yAxisId="speed"
            dataKey="speed"
            stroke="var(--act)"
            strokeWidth={1.8}
            dot={{ r: 2.5, fill: 'var(--act)' }}
            isAnimationActive={false}
          />
          <Tooltip
            isAnimationActive={false}
            cursor={{ fill: 'var(--wash)' }}
            content={({ active, payload }) => {
              const row = active ? (payload?.[0]?.payload as (typeof rows)[number] | undefined) : undefined;
              return row ? (
                <div className={classes.reading}>
                  <div>
                    {row.titleName}, {moment(row.createdAt)}
                  </div>
                  <div>
                    {clock(60 * row.minutes)} of sound, {figure(row.speed, 0)} times real time
                  </div>
                </div>
              ) : null;
            }}
          />
        </ComposedChart>
      </div>
      <ReadersTable
        caption="Length and speed of the last runs"
        heads={['Run', 'Sound', 'Speed']}
        rows={rows.map(({ titleName, createdAt, minutes, speed }) => [
          `${titleName}, ${moment(createdAt)}`,
          clock(60 * minutes),
          `${figure(speed, 0)} times real time`,
        ])}
      />
    </figure>
  );
}

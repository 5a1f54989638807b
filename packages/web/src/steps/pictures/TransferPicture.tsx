import { figure } from '@tonos/core';
import { memo } from 'react';
import { CartesianGrid, Line, LineChart, ReferenceLine, XAxis, YAxis } from 'recharts';
import { useTraces } from '../../listening/listening-clock.ts';
import { AXIS, CURVE, RULES } from '../../plots/chart-look.ts';
import { ReadersTable } from '../../plots/ReadersTable.tsx';
import classes from './Pictures.module.css';

const SIDE = 176;
const LEFT = 30;
const TOP = 6;
const BOTTOM = 32;
const FLOOR_DB = -60;
const TICKS = [-60, -45, -30, -15, 0];
const LEVELS = Array.from({ length: 121 }, (_, i) => FLOOR_DB + i / 2);

const across = (db: number) => LEFT + ((db - FLOOR_DB) / -FLOOR_DB) * SIDE;
const down = (db: number) => TOP + (db / FLOOR_DB) * SIDE;
const levelText = (db: number) => `${figure(db)} dBFS`;

interface TransferProps {
  transfer(levelDb: number): number;
}

/** Level out over level in; while it plays, the point where the step works now. */
export function TransferPicture({ stepId, transfer }: TransferProps & { stepId: string }) {
  return (
    <figure className={classes.figure}>
      <div className={classes.square} aria-hidden>
        <TransferChart transfer={transfer} />
        <WorkingPoint stepId={stepId} transfer={transfer} />
      </div>
      <ReadersTable
        caption="Level out over level in"
        heads={['In', 'Out']}
        rows={LEVELS.filter((db) => db % 5 === 0).map((db) => [levelText(db), levelText(transfer(db))])}
      />
    </figure>
  );
}

/** The curve stands still while its point moves. */
const TransferChart = memo(function TransferChart({ transfer }: TransferProps) {
  const axis = {
    ...AXIS,
    type: 'number',
    domain: [FLOOR_DB, 0],
    ticks: TICKS,
    interval: 0,
    allowDataOverflow: true,
  } as const;
  const figures = (db: number) => figure(db, 0);
  return (
    <LineChart
      accessibilityLayer={false}
      width={LEFT + SIDE + 6}
      height={TOP + SIDE + BOTTOM}
      margin={{ top: TOP, right: 6, bottom: 0, left: 0 }}
      data={LEVELS.map((db) => ({ in: db, out: transfer(db) }))}
    >
      <CartesianGrid {...RULES} />
      <XAxis
        {...axis}
        dataKey="in"
        height={BOTTOM}
        tickFormatter={figures}
        label={{ value: 'in, dBFS', position: 'insideBottom', ...AXIS.tick }}
      />
      <YAxis {...axis} width={LEFT} tickFormatter={figures} />
      <ReferenceLine
        segment={[
          { x: FLOOR_DB, y: FLOOR_DB },
          { x: 0, y: 0 },
        ]}
        stroke="var(--rule-strong)"
        strokeDasharray="2 3"
      />
      <Line {...CURVE} dataKey="out" />
    </LineChart>
  );
});

function WorkingPoint({ stepId, transfer }: TransferProps & { stepId: string }) {
  const reduction = useTraces()[stepId]?.gainReductionDb ?? 0;
  // the level at which the settled curve reduces by as much as the step does now
  const makeup = Math.max(0, transfer(FLOOR_DB) - FLOOR_DB);
  const now = reduction > 0.05 ? LEVELS.find((db) => db + makeup - transfer(db) >= reduction) : undefined;
  if (now === undefined) return null;
  return (
    <svg className={classes.over} aria-hidden>
      <circle className={classes.point} cx={across(now)} cy={down(Math.max(FLOOR_DB, transfer(now)))} r={5} />
    </svg>
  );
}

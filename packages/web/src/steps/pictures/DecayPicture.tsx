import { figure } from '@tonos/core';
import { CartesianGrid, Line, LineChart, Tooltip, XAxis, YAxis } from 'recharts';
import { ChartReading } from '../../plots/ChartReading.tsx';
import { AXIS, hertzText, RULES, STRONG_LINE, THIN_LINE } from '../../plots/chart-look.ts';
import { ReadersTable } from '../../plots/ReadersTable.tsx';
import classes from './Pictures.module.css';

const WIDTH = 620;
const HEIGHT = 190;
const FLOOR_DB = -60;
const POINTS = 160;
/** The frequency at which the decay is that of the settings. */
const NAMED_HZ = 1000;
const DASHES = ['1 3', '', '5 3', '2 2'];

interface DecayPictureProps {
  decays: readonly { hz: number; levelDb(seconds: number): number; endSeconds: number }[];
}

/** How the room dies away after a short sound, at some frequencies. */
export function DecayPicture({ decays }: DecayPictureProps) {
  const endSeconds = Math.max(...decays.map((one) => one.endSeconds));
  const rows = Array.from({ length: POINTS + 1 }, (_, i) => {
    const seconds = (i / POINTS) * endSeconds;
    const levels = decays.map(({ hz, levelDb }) => {
      const level = levelDb(seconds);
      return [String(hz), level < FLOOR_DB || !Number.isFinite(level) ? null : level] as const;
    });
    return { seconds, ...Object.fromEntries(levels) };
  });
  return (
    <figure className={classes.figure}>
      <div aria-hidden>
        <LineChart
          accessibilityLayer={false}
          width={WIDTH}
          height={HEIGHT}
          margin={{ top: 8, right: 12, bottom: 0, left: 0 }}
          data={rows}
        >
          <CartesianGrid {...RULES} />
          <XAxis
            {...AXIS}
            type="number"
            dataKey="seconds"
            domain={[0, 'dataMax']}
            height={32}
            tickFormatter={(value: number) => figure(value, 2)}
            label={{ value: 's', position: 'insideBottom', ...AXIS.tick }}
          />
          <YAxis
            {...AXIS}
            width={34}
            domain={[FLOOR_DB, 0]}
            ticks={[-60, -45, -30, -15, 0]}
            interval={0}
            tickFormatter={(value: number) => figure(value, 0)}
          />
          {decays.map(({ hz }, i) => (
            <Line
              key={hz}
              {...(hz === NAMED_HZ ? STRONG_LINE : THIN_LINE)}
              connectNulls={false}
              strokeDasharray={DASHES[i]}
              dataKey={String(hz)}
              name={`${hertzText(hz)} Hz`}
            />
          ))}
          <Tooltip
            isAnimationActive={false}
            content={
              <ChartReading
                head={(seconds) => `${figure(Number(seconds), 2)} s`}
                text={(value, name) => `${name} ${figure(Number(value))} dB`}
              />
            }
          />
        </LineChart>
      </div>
      <ReadersTable
        caption="How long the room takes to fall by 60 dB"
        heads={['At', 'Until']}
        rows={decays.map(({ hz, endSeconds: end }) => [`${hertzText(hz)} Hz`, `${figure(end, 2)} s`])}
      />
      <figcaption className={classes.caption}>
        {`after a short sound, dB: 60 dB down after ${decays.map(({ hz, endSeconds: end }) => `${figure(end, 2)} s at ${hertzText(hz)} Hz`).join(', ')}`}
      </figcaption>
    </figure>
  );
}

import { figure, hertzFigure } from '@tonos/core';
import { Area, CartesianGrid, ComposedChart, Line, Tooltip, XAxis, YAxis } from 'recharts';
import classes from './Chart.module.css';
import { ChartReading } from './ChartReading.tsx';
import { AXIS, HERTZ_AXIS, HERTZ_LINES, RULES, STILL, STRONG_LINE, THIN_LINE } from './chart-look.ts';
import { ReadersTable } from './ReadersTable.tsx';
import { levelTicks, spectrumRows } from './spectrum-rows.ts';

type Levels = readonly (number | null)[];

interface SpectrumChartProps {
  label: string;
  centresHz: readonly number[];
  /** dBFS a sixth octave, over `centresHz`. */
  lines: readonly { name: string; strong: boolean; values: Levels }[];
  /** What lies between these two is shaded: it was taken away. */
  taken?: { from: Levels; to: Levels };
  heightPx: number;
}

const levelText = (db: unknown) => (typeof db === 'number' ? `${figure(db)} dBFS` : '\u2013');

/** Long-term spectra, one over the other. */
export function SpectrumChart({ label, centresHz, lines, taken, heightPx }: SpectrumChartProps) {
  const rows = spectrumRows(centresHz, lines, taken);
  const ticks = levelTicks(lines.flatMap(({ values }) => values));
  return (
    <>
      <div className={classes.chart} aria-hidden>
        <ComposedChart
          {...STILL}
          data={rows}
          margin={{ top: 4, right: 4, bottom: 0, left: 0 }}
          style={{ height: heightPx }}
        >
          <CartesianGrid {...RULES} />
          <XAxis {...HERTZ_AXIS} ticks={[...HERTZ_LINES]} />
          <YAxis
            {...AXIS}
            width={32}
            ticks={ticks}
            domain={[ticks[0], ticks[ticks.length - 1]]}
            allowDataOverflow
            interval={0}
            tickFormatter={(db: number) => figure(db, 0)}
          />
          {taken && (
            <Area
              dataKey="taken"
              name="taken away"
              isAnimationActive={false}
              activeDot={false}
              stroke="none"
              fill="var(--act)"
              fillOpacity={0.25}
              connectNulls
            />
          )}
          {lines.map(({ name, strong }) => (
            <Line key={name} dataKey={name} {...(strong ? STRONG_LINE : THIN_LINE)} />
          ))}
          <Tooltip
            isAnimationActive={false}
            content={
              <ChartReading
                head={hertzFigure}
                text={(db, name) => (name === 'taken away' ? null : `${name} ${levelText(db)}`)}
              />
            }
          />
        </ComposedChart>
      </div>
      <ReadersTable
        caption={`${label}, dBFS a sixth octave`}
        heads={['Frequency', ...lines.map(({ name }) => name)]}
        rows={rows.map((row) => [hertzFigure(row.hz), ...lines.map(({ name }) => levelText(row[name]))])}
      />
    </>
  );
}

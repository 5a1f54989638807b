import type { TitleMeasure } from '@tonos/contract';
import { LIMITABLE_MEASURES, type Limit } from '@tonos/core';
import { CartesianGrid, ReferenceArea, ReferenceLine, Scatter, ScatterChart, Tooltip, XAxis, YAxis } from 'recharts';
import chartClasses from '../../plots/Chart.module.css';
import { AXIS, RULES, STILL } from '../../plots/chart-look.ts';
import { valueTicks } from '../../plots/value-ticks.ts';
import { figureText } from '../../ui/figure-text.ts';
import type { ChapterFigure } from './chapter-figures.ts';
import { outlierText } from './outlier-text.ts';
import classes from './TitleFigures.module.css';

interface ChapterChartProps {
  measure: TitleMeasure;
  rows: readonly ChapterFigure[];
  limit: Pick<Limit, 'min' | 'max' | 'aim'> | undefined;
  onOpen(recordingId: string): void;
}

const HEIGHT = 300;
/** So many recordings are numbered along the axis. */
const MOST_PLACES = 25;

/** One measure over the recordings of a title: as they came in hollow, as they were delivered filled, the target's window behind. */
export function ChapterChart({ measure, rows, limit, onOpen }: ChapterChartProps) {
  const { title, unit } = LIMITABLE_MEASURES[measure];
  const edges = [limit?.min, limit?.max].filter((edge) => typeof edge === 'number');
  const values = [...rows.flatMap(({ source, delivered }) => [source, delivered]), ...edges].filter(
    (value) => value !== null,
  );
  const ticks = valueTicks(values, measure === 'durationSeconds');
  const [low, high] = [ticks[0], ticks[ticks.length - 1]];
  const open = ({ payload }: { payload?: unknown }) => onOpen((payload as ChapterFigure).id);
  const first = rows[0]?.position ?? 1;
  const last = rows[rows.length - 1]?.position ?? 1;
  const every = Math.ceil(rows.length / MOST_PLACES);
  const common = { isAnimationActive: false, onClick: open, className: classes.points } as const;
  return (
    <div className={chartClasses.chart} aria-hidden>
      <ScatterChart {...STILL} margin={{ top: 8, right: 8, bottom: 4, left: 0 }} style={{ height: HEIGHT }}>
        <CartesianGrid {...RULES} vertical={false} />
        {limit && (
          <ReferenceArea
            y1={limit.min ?? low}
            y2={limit.max ?? high}
            fill="var(--window)"
            fillOpacity={1}
            stroke="none"
            ifOverflow="hidden"
          />
        )}
        {typeof limit?.aim === 'number' && <ReferenceLine y={limit.aim} stroke="var(--within)" strokeDasharray="4 3" />}
        <XAxis
          {...AXIS}
          type="number"
          dataKey="position"
          domain={[first - 0.5, last + 0.5]}
          ticks={rows.filter((_, i) => i % every === 0).map(({ position }) => position)}
          height={22}
        />
        <YAxis
          {...AXIS}
          type="number"
          dataKey="value"
          width={56}
          domain={[low, high]}
          ticks={ticks}
          interval={0}
          tickFormatter={(value: number) => figureText(measure, value)}
        />
        <Scatter
          {...common}
          name="as it came in"
          data={rows.filter(({ source }) => source !== null).map((row) => ({ ...row, value: row.source }))}
          fill="var(--paper)"
          stroke="var(--rule-strong)"
          strokeWidth={1.5}
          shape="circle"
        />
        <Scatter
          {...common}
          name="as delivered"
          data={rows
            .filter(({ delivered, outlier }) => delivered !== null && !outlier)
            .map((row) => ({ ...row, value: row.delivered }))}
          fill="var(--within)"
          shape="circle"
        />
        <Scatter
          {...common}
          name="standing out"
          data={rows.filter(({ outlier }) => outlier).map((row) => ({ ...row, value: row.delivered ?? row.source }))}
          fill="var(--over)"
          shape="diamond"
        />
        <Tooltip
          isAnimationActive={false}
          cursor={false}
          content={({ active, payload }) => {
            const row = active ? (payload?.[0]?.payload as ChapterFigure | undefined) : undefined;
            if (!row) return null;
            return (
              <div className={chartClasses.reading}>
                <div>
                  {row.position} {row.name}
                </div>
                <div>
                  {title} {figureText(measure, row.source)}
                  {row.delivered !== null && ` \u2192 ${figureText(measure, row.delivered)}`}{' '}
                  {measure === 'durationSeconds' ? '' : unit}
                </div>
                {row.outlier && <div className="verdict-over">{outlierText(measure, row.outlier)}</div>}
              </div>
            );
          }}
        />
      </ScatterChart>
    </div>
  );
}

import { Bracket, RULER_HEIGHT, RULER_LINE, Window } from './Ruler.tsx';
import type { RulerScale } from './ruler-scale.ts';
import type { Spread } from './spread.ts';

interface SpreadRulerProps {
  scale: RulerScale;
  min: number | null;
  max: number | null;
  spread: Spread;
  width: number;
  label: string;
}

const HALF_PX = 5;
/** The column where one of very many lies is still seen. */
const FAINTEST = 0.25;

/** All figures of a column on the ruler of its rows: the darker, the more lie there; the median stands out below. */
export function SpreadRuler({ scale, min, max, spread, width, label }: SpreadRulerProps) {
  const middle = scale.place(spread.median) * width;
  return (
    <svg width={width} height={RULER_HEIGHT} role="img" aria-label={label} overflow="visible">
      <Window scale={scale} width={width} />
      {min !== null && <Bracket at={scale.windowStart * width} turn={1} />}
      {max !== null && <Bracket at={scale.windowEnd * width} turn={-1} />}
      {spread.columns.map(({ x, share }) => (
        <line
          key={x}
          x1={x}
          x2={x}
          y1={RULER_LINE - HALF_PX}
          y2={RULER_LINE + HALF_PX}
          stroke="var(--ink)"
          strokeWidth={2}
          opacity={FAINTEST + (1 - FAINTEST) * share}
        />
      ))}
      <path d={`M${middle} ${RULER_LINE + 7} l3.5 5 h-7 z`} fill="var(--ink)" />
    </svg>
  );
}

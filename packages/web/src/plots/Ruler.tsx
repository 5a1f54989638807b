import type { RulerScale } from './ruler-scale.ts';

interface RulerProps {
  scale: RulerScale;
  min: number | null;
  max: number | null;
  before: number | null;
  after: number | null;
  result: 'within' | 'over' | 'under' | undefined;
  width?: number;
  label: string;
}

export const RULER_HEIGHT = 26;
/** Where the line lies. */
export const RULER_LINE = 14;

/**
 * The allowed window in brackets; a hollow point for the recording, a full one for the delivery. Over is a triangle above
 * the line, under one below it: the place tells what the colour tells.
 */
export function Ruler({ scale, min, max, before, after, result, width = 120, label }: RulerProps) {
  const x = (share: number) => share * width;
  const { windowStart, windowEnd, place } = scale;
  return (
    <svg width={width} height={RULER_HEIGHT} role="img" aria-label={label} overflow="visible">
      <Window scale={scale} width={width} />
      {min !== null && <Bracket at={x(windowStart)} turn={1} />}
      {max !== null && <Bracket at={x(windowEnd)} turn={-1} />}
      {before !== null && (
        <circle
          cx={x(place(before))}
          cy={RULER_LINE}
          r={3.2}
          fill="var(--paper)"
          stroke="var(--ink-3)"
          strokeWidth={1.4}
        />
      )}
      {after !== null && <After at={x(place(after))} result={result} />}
    </svg>
  );
}

/** The line, and what of it is allowed. */
export const Window = ({ scale: { windowStart, windowEnd }, width }: { scale: RulerScale; width: number }) => (
  <>
    <rect
      x={windowStart * width}
      y={RULER_LINE - 6}
      width={(windowEnd - windowStart) * width}
      height={12}
      fill="var(--window)"
    />
    <line x1={0} x2={width} y1={RULER_LINE} y2={RULER_LINE} stroke="var(--rule-strong)" />
  </>
);

export const Bracket = ({ at, turn }: { at: number; turn: 1 | -1 }) => (
  <path
    d={`M${at + 3 * turn} ${RULER_LINE - 7} h${-3 * turn} v14 h${3 * turn}`}
    fill="none"
    stroke="var(--ink-2)"
    strokeWidth={1.2}
  />
);

function After({ at, result }: { at: number; result: RulerProps['result'] }) {
  if (result === 'over') return <path d={`M${at - 5} ${RULER_LINE - 3} h10 l-5 -9 z`} fill="var(--over)" />;
  if (result === 'under') return <path d={`M${at - 5} ${RULER_LINE + 3} h10 l-5 9 z`} fill="var(--under)" />;
  return <circle cx={at} cy={RULER_LINE} r={4} fill="var(--within)" />;
}

/** What every chart has in common: fine rules, figures in the type of figures, nothing that moves by itself. */
const FIGURES = { fontFamily: 'var(--figure)', fontSize: 10.5, fill: 'var(--ink-2)' } as const;

export const AXIS = { tick: FIGURES, tickLine: false, axisLine: { stroke: 'var(--rule-strong)' } } as const;
export const RULES = { stroke: 'var(--rule)' } as const;
/** The readers' table says it; the drawing itself is for the eye. */
export const STILL = { accessibilityLayer: false, responsive: true } as const;

const line = { type: 'linear', dot: false, isAnimationActive: false, connectNulls: true, activeDot: { r: 3 } } as const;
export const STRONG_LINE = { ...line, stroke: 'var(--act)', strokeWidth: 1.8 } as const;
export const THIN_LINE = { ...line, stroke: 'var(--rule-strong)', strokeWidth: 1.2 } as const;
export const CURVE = { ...line, stroke: 'var(--ink)', strokeWidth: 2, activeDot: false } as const;

export const HERTZ_LINES: readonly number[] = [50, 100, 200, 500, 1000, 2000, 5000, 10000];

export const hertzText = (hz: number): string => (hz >= 1000 ? `${hz / 1000}k` : String(hz));

/** An axis over frequency, in octaves. */
export const HERTZ_AXIS = {
  ...AXIS,
  type: 'number',
  dataKey: 'hz',
  scale: 'log',
  domain: [20, 20000],
  allowDataOverflow: true,
  ticks: HERTZ_LINES,
  tickFormatter: hertzText,
  interval: 0,
  height: 18,
} as const;

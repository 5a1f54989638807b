import { figure } from '@tonos/core';
import classes from './OrderDrawing.module.css';

/** What a target allows of the whole's loudness. */
export interface Window {
  min: number | null;
  max: number | null;
}

export function windowWords({ min, max }: Window): string {
  if (min !== null && max !== null) return `${figure((min + max) / 2)} \u00b1 ${figure((max - min) / 2)}`;
  if (min !== null) return `from ${figure(min)}`;
  return max === null ? 'any' : `to ${figure(max)}`;
}

interface LoudnessLineProps {
  /** Short-term loudness, one value a step. */
  values: readonly (number | null)[];
  stepSeconds: number;
  window: Window | undefined;
  width: number;
  height: number;
  seconds: number;
}

const TOP_LUFS = -8;
const BOTTOM_LUFS = -40;
const MARKS = [-16, -24, -32];

/** The loudness of the whole over three seconds, with the window that the target has for all of it. */
export function LoudnessLine({ values, stepSeconds, window, width, height, seconds }: LoudnessLineProps) {
  const y = (lufs: number) =>
    ((TOP_LUFS - Math.min(TOP_LUFS, Math.max(BOTTOM_LUFS, lufs))) / (TOP_LUFS - BOTTOM_LUFS)) * height;
  const top = y(window?.max ?? TOP_LUFS);
  return (
    <g aria-hidden>
      {window && (
        <rect
          className={classes.window}
          y={top}
          width={width}
          height={Math.max(1, y(window.min ?? BOTTOM_LUFS) - top)}
        />
      )}
      {MARKS.map((lufs) => (
        <g key={lufs}>
          <line className={classes.level} x2={width} y1={y(lufs)} y2={y(lufs)} />
          <text className={classes.levelWord} x={-6} y={y(lufs) + 4}>
            {figure(lufs, 0)}
          </text>
        </g>
      ))}
      <path className={classes.loudness} d={linePath(values, (i) => ((i * stepSeconds) / seconds) * width, y, width)} />
    </g>
  );
}

/** A line of no more points than there are pixels; where it is silent, there is none. */
function linePath(
  values: readonly (number | null)[],
  x: (index: number) => number,
  y: (lufs: number) => number,
  width: number,
): string {
  const each = Math.max(1, Math.ceil(values.length / Math.max(1, width)));
  let path = '';
  let isDown = false;
  for (let i = 0; i < values.length; i += each) {
    const lufs = values[i];
    if (lufs === null) isDown = false;
    else {
      path += `${isDown ? 'L' : 'M'}${x(i).toFixed(1)} ${y(lufs).toFixed(1)}`;
      isDown = true;
    }
  }
  return path;
}

import type { PlacedPart, ResolvedOrder } from '@tonos/core';
import { memo, useMemo, useRef } from 'react';
import { api } from '../../api/api.ts';
import { secondsOf } from './lay-out-order.ts';
import classes from './OrderDrawing.module.css';
import { distanceWords } from './order-words.ts';
import { soundingSpans, wavePath } from './plate-path.ts';

export const PLATE = 46;

interface PlateProps {
  placed: PlacedPart;
  recordingId: string | undefined;
  scale: number;
  chosen: boolean;
  /** How it begins. */
  words: string;
  onChoose(id: string): void;
  onShift(id: string, bySeconds: number): void;
  onDrag(id: string, bySeconds: number): void;
  onLetGo(): void;
}

export const Plate = memo(function Plate(props: PlateProps) {
  const { placed, recordingId, scale, chosen, words, onChoose, onShift, onDrag, onLetGo } = props;
  const { data: overview } = api.useRecordingOverviewQuery(recordingId ?? '', { skip: !recordingId });
  const { part, start, end, fadeIn, fadeOut } = placed;
  const { columns = [] } = overview ?? {};
  // what does not change while it is shifted is not drawn again
  const shape = JSON.stringify([end - start, placed.ownFrames, placed.openings]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the shape is what counts
  const path = useMemo(() => wavePath(placed, columns, { scale, height: PLATE }), [shape, columns, scale]);
  const held = useRef<number>(null);
  const fixed = 'into' in part.begins;
  const name = part.name || part.id;
  const width = (end - start) * scale;
  return (
    <g
      className={classes.plate}
      role="button"
      tabIndex={0}
      aria-label={`${name}, ${words}`}
      aria-pressed={chosen}
      data-chosen={chosen || undefined}
      data-fixed={fixed || undefined}
      onFocus={() => onChoose(part.id)}
      onPointerDown={(event) => {
        onChoose(part.id);
        if (fixed || event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = event.clientX;
      }}
      onPointerMove={(event) => {
        if (held.current === null) return;
        const by = event.clientX - held.current;
        if (Math.abs(secondsOf(by / scale)) < 0.005) return;
        held.current = event.clientX;
        onDrag(part.id, secondsOf(by / scale));
      }}
      onPointerUp={() => {
        held.current = null;
        onLetGo();
      }}
      onPointerCancel={() => {
        held.current = null;
        onLetGo();
      }}
      onKeyDown={(event) => {
        if (fixed || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
        event.preventDefault();
        const step = event.altKey ? 0.01 : event.shiftKey ? 1 : 0.1;
        onShift(part.id, event.key === 'ArrowLeft' ? -step : step);
      }}
    >
      {soundingSpans(placed).map(({ from, to }) => (
        <rect key={from} x={from * scale} width={Math.max(1, (to - from) * scale)} height={PLATE} rx={1} />
      ))}
      <path className={classes.wave} d={path} />
      <FadeLine frames={fadeIn.frames} at={0} rises scale={scale} />
      <FadeLine frames={fadeOut.frames} at={width - fadeOut.frames * scale} scale={scale} />
      <text className={classes.partName} x={5} y={13}>
        {width > 40 ? name.slice(0, Math.floor(width / 7)) : ''}
      </text>
    </g>
  );
});

/** The gain of a fade over its plate, as an S. */
function FadeLine({
  frames,
  at,
  rises = false,
  scale,
}: {
  frames: number;
  at: number;
  rises?: boolean;
  scale: number;
}) {
  if (frames <= 0) return null;
  const width = frames * scale;
  const [from, to] = rises ? [PLATE, 0] : [0, PLATE];
  const third = width / 3;
  return (
    <path
      className={classes.fade}
      d={`M${at} ${from}C${at + third} ${from} ${at + 2 * third} ${to} ${at + width} ${to}`}
    />
  );
}

interface DistanceLine {
  words: string;
  /** Of the line, in pixels from where the part begins. */
  left: number;
  right: number;
}

const BESIDE_LINE = 5;
/** Of a figure's letters. */
const LETTER = 7.3;

function distanceOf(placed: PlacedPart, resolved: ResolvedOrder, scale: number): DistanceLine | null {
  const { begins } = placed.part;
  const words = distanceWords(placed.part, secondsOf(placed.end - placed.start));
  if (!words) return null;
  const other = 'after' in begins ? begins.after : 'with' in begins ? begins.with : null;
  const from = resolved.parts.find(({ part }) => part.id === other);
  const since = 'after' in begins ? (from?.end ?? 0) : (from?.start ?? 0);
  const x = 'into' in begins ? (placed.end - placed.start) * scale : (since - placed.start) * scale;
  return { words, left: Math.min(0, x), right: Math.max(0, x) };
}

/** From where to where a part is drawn with the words at it, in frames: nothing else is written there. */
export function reachOf(placed: PlacedPart, resolved: ResolvedOrder, scale: number): [from: number, to: number] {
  const line = distanceOf(placed, resolved, scale);
  const written = line ? line.right + BESIDE_LINE + LETTER * (line.words.length + 1) : 0;
  return [placed.start, Math.max(placed.end, placed.start + written / scale)];
}

/** A dimension line from what a part hangs on to where it begins. */
export function Distance({ placed, resolved, scale }: { placed: PlacedPart; resolved: ResolvedOrder; scale: number }) {
  const line = distanceOf(placed, resolved, scale);
  if (!line) return null;
  const { words, left, right } = line;
  return (
    <g transform="translate(0 -8)" aria-hidden>
      <path className={classes.distanceLine} d={`M${left} -4V4M${right} -4V4M${left} 0H${right}`} />
      <text className={classes.distance} x={right + BESIDE_LINE} y={4}>
        {words}
      </text>
    </g>
  );
}

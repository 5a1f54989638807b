import { useDebouncedCallback } from '@mantine/hooks';
import { IconArrowsHorizontal } from '@tabler/icons-react';
import { figure } from '@tonos/core';
import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import classes from './Bench.module.css';

const STEP_SECONDS = 0.001;
const COARSE = 10;
const KEPT_AFTER_MS = 400;

interface LayGripProps {
  name: string;
  /** How much later it lies than it is kept. */
  bySeconds: number;
  /** Of a picture's width. */
  secondsPerPixel: number;
  /** It is being moved. */
  move(bySeconds: number): void;
  /** It stays there. */
  keep(bySeconds: number): void;
}

/** By which a member of a set is laid on the time of the one above it: by dragging, or by the arrow keys. */
export function LayGrip({ name, bySeconds, secondsPerPixel, move, keep }: LayGripProps) {
  const from = useRef<number | null>(null);
  // several presses are one change
  const keepSoon = useDebouncedCallback(keep, { delay: KEPT_AFTER_MS, flushOnUnmount: true });
  const byOf = ({ clientX }: PointerEvent) => (clientX - from.current!) * secondsPerPixel;
  const begin = (event: PointerEvent<HTMLButtonElement>) => {
    // the plate would choose a stretch
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = event.clientX;
  };
  const end = (event: PointerEvent<HTMLButtonElement>) => {
    if (from.current === null) return;
    const by = byOf(event);
    from.current = null;
    keep(by);
  };
  const byKey = (event: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    move(bySeconds + way * STEP_SECONDS * (event.shiftKey ? COARSE : 1));
  };
  return (
    <button
      type="button"
      className={classes.grip}
      role="slider"
      aria-label={`Lay ${name} on the time of the one above`}
      aria-valuenow={bySeconds}
      aria-valuetext={`${figure(1000 * bySeconds, 0)} ms later`}
      title="Drag it, or move it by the arrow keys: 1 ms, with Shift 10 ms"
      onPointerDown={begin}
      onPointerMove={(event) => from.current !== null && move(byOf(event))}
      onPointerUp={end}
      onPointerCancel={() => {
        from.current = null;
        move(0);
      }}
      onKeyDown={byKey}
      onKeyUp={({ key }) => key.startsWith('Arrow') && keepSoon(bySeconds)}
    >
      <IconArrowsHorizontal size={14} aria-hidden />
      {bySeconds ? `${bySeconds > 0 ? '+' : ''}${figure(1000 * bySeconds, 0)} ms` : 'move in time'}
    </button>
  );
}

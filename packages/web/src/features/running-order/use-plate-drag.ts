import type { OrderFile } from '@tonos/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useLatest } from '../../ui/use-latest.ts';
import { shiftedBegin, withPart } from './edit-order.ts';

/** What is dragged becomes part of the order when it rests for so long, or is let go. */
const RESTS_MS = 150;

export interface PlateDrag {
  /** The order as it is drawn: with what is being dragged. */
  order: OrderFile;
  /** Whether a plate is in somebody's hand: the ruler stays under it. */
  held: boolean;
  drag(id: string, bySeconds: number): void;
  letGo(): void;
}

/** A plate that is dragged moves in the drawing alone, at every frame; all else follows when it rests. */
export function usePlateDrag(order: OrderFile, onShift: (id: string, bySeconds: number) => void): PlateDrag {
  const [dragged, setDragged] = useState<{ id: string; bySeconds: number } | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const [held, setHeld] = useState(false);
  const rest = useLatest(() => {
    clearTimeout(timer.current);
    if (!dragged) return;
    setDragged(null);
    onShift(dragged.id, dragged.bySeconds);
  });
  const letGo = useLatest(() => {
    rest();
    setHeld(false);
  });
  const drag = useLatest((id: string, bySeconds: number) => {
    clearTimeout(timer.current);
    timer.current = setTimeout(rest, RESTS_MS);
    setHeld(true);
    setDragged({ id, bySeconds: bySeconds + (dragged?.id === id ? dragged.bySeconds : 0) });
  });
  useEffect(() => () => clearTimeout(timer.current), []);
  const shown = useMemo(() => {
    const part = dragged && order.parts.find(({ id }) => id === dragged.id);
    const begins = part && shiftedBegin(part, dragged.bySeconds);
    return begins ? withPart(order, part.id, { begins }) : order;
  }, [order, dragged]);
  return { order: shown, held, drag, letGo };
}

import { spectrogramHz } from '@tonos/core';
import { type PointerEvent, type RefObject, useRef, useState } from 'react';
import { secondsAt, type TimeRange } from '../../plots/time-axis.ts';
import type { Selection } from './markings.ts';

/** Pixels that a press may wander and still be a click. */
const STILL = 3;

export interface Pointer {
  /** Of the plate's width. */
  share: number;
  /** Share of the spectrogram's height, from the bottom, where the pointer is over it. */
  pitch: number | null;
}

interface PlatePointerNeeds {
  plate: RefObject<HTMLElement | null>;
  range: TimeRange;
  sampleRateHz: number;
  select(selection: Selection | null): void;
  click(seconds: number): void;
}

/** A click is a place, dragging chooses a stretch; in the spectrogram a stretch of frequencies too. */
export function usePlatePointer({ plate, range, sampleRateHz, select, click }: PlatePointerNeeds) {
  const [pointer, setPointer] = useState<Pointer | null>(null);
  const pressed = useRef<{ x: number; at: Pointer; surface: Element | null; far: boolean } | null>(null);

  const clamp = (share: number) => Math.min(1, Math.max(0, share));
  const read = (event: PointerEvent, surface: Element | null): Pointer => {
    const box = plate.current!.getBoundingClientRect();
    const pitch = surface?.getBoundingClientRect();
    return {
      share: clamp((event.clientX - box.left) / box.width),
      pitch: pitch ? clamp(1 - (event.clientY - pitch.top) / pitch.height) : null,
    };
  };
  const pitchSurface = (event: PointerEvent) => (event.target as Element).closest('[data-pitch]');

  return {
    pointer,
    on: {
      onPointerMove(event: PointerEvent) {
        const held = pressed.current;
        const now = read(event, held ? held.surface : pitchSurface(event));
        setPointer(now);
        if (!held) return;
        if (Math.abs(event.clientX - held.x) > STILL) held.far = true;
        if (held.far) select(between(held.at, now, range, sampleRateHz));
      },
      onPointerLeave: () => setPointer(null),
      onPointerDown(event: PointerEvent) {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const surface = pitchSurface(event);
        pressed.current = { x: event.clientX, at: read(event, surface), surface, far: false };
      },
      onPointerUp(event: PointerEvent) {
        const held = pressed.current;
        pressed.current = null;
        if (!held || held.far) return;
        select(null);
        click(secondsAt(range, read(event, null).share));
      },
      onPointerCancel() {
        pressed.current = null;
      },
    },
  };
}

function between(a: Pointer, b: Pointer, range: TimeRange, sampleRateHz: number): Selection {
  const [start, end] = [Math.min(a.share, b.share), Math.max(a.share, b.share)].map((share) => secondsAt(range, share));
  const span = { startSeconds: start, endSeconds: end };
  if (a.pitch === null || b.pitch === null) return span;
  const hz = (pitch: number) => spectrogramHz(pitch, sampleRateHz);
  return { ...span, lowHz: hz(Math.min(a.pitch, b.pitch)), highHz: hz(Math.max(a.pitch, b.pitch)) };
}

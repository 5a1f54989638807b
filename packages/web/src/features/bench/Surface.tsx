import { useComputedColorScheme } from '@mantine/core';
import { type ReactNode, useEffect, useRef } from 'react';
import type { Surface as DrawingSurface, Ink } from '../../plots/draw-plate.ts';
import classes from './Bench.module.css';

interface SurfaceProps {
  width: number;
  height: number;
  /** Draws everything; called again when it changes, and with another theme. */
  draw(surface: Pick<DrawingSurface, 'context' | 'width' | 'height'>, ink: Ink): void;
  label: string;
  children?: ReactNode;
}

/** By theme: to ask for styles costs more than to draw. */
const inks = new Map<string, Ink>();

function inkOf(element: Element, scheme: string): Ink {
  const known = inks.get(scheme);
  if (known) return known;
  const made = readInk(element);
  inks.set(scheme, made);
  return made;
}

function readInk(element: Element): Ink {
  const style = getComputedStyle(element);
  const token = (name: string) => style.getPropertyValue(`--${name}`).trim();
  const ink = token('ink');
  const spectrum = [1, 3, 5].map((at) => Number.parseInt(ink.slice(at, at + 2), 16)) as Ink['spectrum'];
  return {
    wave: token('rule-strong'),
    rms: token('wave'),
    rule: token('rule'),
    line: token('act'),
    faint: token('rule-strong'),
    window: token('window'),
    over: token('over'),
    spectrum,
  };
}

/** A canvas at the screen's own density, with what stands over it. */
export function Surface({ width, height, draw, label, children }: SurfaceProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const scheme = useComputedColorScheme();
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || !width) return;
    const density = window.devicePixelRatio || 1;
    const [wide, high] = [Math.round(width * density), Math.round(height * density)];
    if (element.width !== wide) element.width = wide;
    if (element.height !== high) element.height = high;
    context.setTransform(density, 0, 0, density, 0, 0);
    draw({ context, width, height }, inkOf(element, scheme));
  }, [width, height, draw, scheme]);
  return (
    <div className={classes.surface} style={{ height }}>
      {children}
      <div className={classes.canvas} style={{ height }}>
        <canvas ref={canvas} role="img" aria-label={label} />
      </div>
    </div>
  );
}

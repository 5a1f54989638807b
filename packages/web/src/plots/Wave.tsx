import { useComputedColorScheme } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { useEffect, useRef } from 'react';
import { drawWave } from './draw-wave.ts';

interface WaveProps {
  columns: readonly (readonly [number, number])[];
  height: number;
}

/** The whole of a recording as one quiet drawing. */
export function Wave({ columns, height }: WaveProps) {
  const { ref, width } = useElementSize();
  const canvas = useRef<HTMLCanvasElement>(null);
  const scheme = useComputedColorScheme();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another theme has another ink
  useEffect(() => {
    const element = canvas.current;
    if (!element || !width) return;
    const density = window.devicePixelRatio || 1;
    element.width = Math.round(width * density);
    element.height = Math.round(height * density);
    const context = element.getContext('2d');
    if (!context) return;
    context.scale(density, density);
    drawWave(context, columns, width, height, getComputedStyle(element).getPropertyValue('--wave'));
  }, [columns, width, height, scheme]);
  return (
    <div ref={ref} style={{ height }}>
      <canvas ref={canvas} style={{ width: '100%', height, display: 'block' }} aria-hidden />
    </div>
  );
}

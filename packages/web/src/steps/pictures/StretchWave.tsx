import { useEffect, useRef } from 'react';
import { drawWave } from '../../plots/draw-wave.ts';
import classes from './Pictures.module.css';

interface StretchWaveProps {
  /** Smallest and largest sample of each. */
  columns: readonly [number, number][];
  width: number;
  height: number;
}

/** The sound that goes into a step, as high as there is room. */
export function StretchWave({ columns, width, height }: StretchWaveProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !canvas.current) return;
    const ratio = devicePixelRatio;
    canvas.current.width = width * ratio;
    canvas.current.height = height * ratio;
    context.scale(ratio, ratio);
    const ink = getComputedStyle(canvas.current).getPropertyValue('--wave');
    const peak = Math.max(0.01, ...columns.map(([low, high]) => Math.max(-low, high)));
    const whole = columns.map(([low, high]): [number, number] => [low / peak, high / peak]);
    drawWave(context, whole, width, height, ink);
  }, [columns, width, height]);
  return <canvas ref={canvas} className={classes.wave} style={{ width, height }} />;
}

import { figure } from '@tonos/core';
import { useEffect, useId, useRef } from 'react';
import { useTraces } from '../../../listening/listening-clock.ts';
import { drawWave } from '../../../plots/draw-wave.ts';
import { clock } from '../../../ui/time.ts';
import type { StepPicture } from '../ledger/messages.ts';
import classes from './Pictures.module.css';

const SIDE = 176;
const BOTTOM_DB = -60;

/** Level out over level in; while it plays, the point where the step works now. */
export function TransferPicture({ stepId, transfer }: { stepId: string; transfer: (levelDb: number) => number }) {
  const reduction = useTraces()[stepId]?.gainReductionDb ?? 0;
  const x = (db: number) => ((db - BOTTOM_DB) / -BOTTOM_DB) * SIDE;
  const y = (db: number) => SIDE - x(db);
  const clip = useId();
  const levels = Array.from({ length: 121 }, (_, i) => BOTTOM_DB + i / 2);
  const line = levels.map((db) => `${x(db).toFixed(1)},${y(transfer(db)).toFixed(1)}`).join(' ');
  // the level at which the settled curve reduces by as much as the step does now
  const makeup = Math.max(0, transfer(BOTTOM_DB) - BOTTOM_DB);
  const now = reduction > 0.05 ? levels.find((db) => db + makeup - transfer(db) >= reduction) : undefined;
  return (
    <figure className={classes.figure}>
      <svg
        className={classes.square}
        viewBox={`-26 -4 ${SIDE + 32} ${SIDE + 22}`}
        role="img"
        aria-label="Level out over level in"
      >
        {[-60, -45, -30, -15, 0].map((db) => (
          <g key={db}>
            <line className={classes.rule} x1={x(db)} x2={x(db)} y1={0} y2={SIDE} />
            <line className={classes.rule} x1={0} x2={SIDE} y1={y(db)} y2={y(db)} />
            <text className={classes.text} x={-4} y={y(db) + 4} textAnchor="end">
              {figure(db, 0)}
            </text>
          </g>
        ))}
        <line className={classes.zero} strokeDasharray="2 3" x1={0} y1={SIDE} x2={SIDE} y2={0} />
        <clipPath id={clip}>
          <rect x={0} y={-2} width={SIDE} height={SIDE + 2} />
        </clipPath>
        <polyline className={classes.curve} points={line} clipPath={`url(#${clip})`} />
        {now !== undefined && (
          <circle className={classes.point} cx={x(now)} cy={y(Math.max(BOTTOM_DB, transfer(now)))} r={5} />
        )}
        <text className={classes.text} x={SIDE / 2} y={SIDE + 14} textAnchor="middle">
          in, dBFS
        </text>
      </svg>
    </figure>
  );
}

interface TracePictureProps {
  picture: StepPicture;
  name: string;
  title: string;
  unit: string;
}

const WIDTH = 420;
const WAVE_HEIGHT = 92;
const TRACE_HEIGHT = 68;

/** What a step did along the stretch: the wave that went in, and its trace below, with the mean and the most. */
export function TracePicture({ picture, name, title, unit }: TracePictureProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const values = picture.traces[name] ?? [];
  const total = picture.totals[name];
  const most = Math.max(6, Math.ceil((total?.most ?? 0) / 6) * 6);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !canvas.current) return;
    const ratio = devicePixelRatio;
    canvas.current.width = WIDTH * ratio;
    canvas.current.height = WAVE_HEIGHT * ratio;
    context.scale(ratio, ratio);
    const ink = getComputedStyle(canvas.current).getPropertyValue('--wave');
    const peak = Math.max(0.01, ...picture.before.map(([low, high]) => Math.max(-low, high)));
    const whole = picture.before.map(([low, high]): [number, number] => [low / peak, high / peak]);
    drawWave(context, whole, WIDTH, WAVE_HEIGHT, ink);
  }, [picture]);
  const points = values.map(
    (value, i) => `${((i / values.length) * WIDTH).toFixed(1)},${((value / most) * TRACE_HEIGHT).toFixed(1)}`,
  );
  return (
    <figure className={classes.figure}>
      <canvas ref={canvas} className={classes.wave} style={{ width: WIDTH, height: WAVE_HEIGHT }} />
      <div className={classes.traceHead}>
        {title.toLowerCase()}, {unit}
      </div>
      <svg className={classes.trace} viewBox={`0 0 ${WIDTH + 30} ${TRACE_HEIGHT + 2}`} role="img" aria-label={title}>
        {[0, 0.5, 1].map((share) => (
          <g key={share}>
            <line className={classes.rule} x1={0} x2={WIDTH} y1={share * TRACE_HEIGHT} y2={share * TRACE_HEIGHT} />
            <text className={classes.text} x={WIDTH + 4} y={share * TRACE_HEIGHT + (share === 1 ? 0 : 8)}>
              {figure(-share * most, 0)}
            </text>
          </g>
        ))}
        <polygon className={classes.reduction} points={`0,0 ${points.join(' ')} ${WIDTH},0`} />
      </svg>
      <figcaption className={classes.caption}>
        {total && total.most >= 0.05
          ? `while it works ${figure(total.mean)} ${unit} on average, at most ${figure(total.most)} ${unit} at ${clock(total.atSeconds, 1)}`
          : 'it does nothing on this stretch'}
      </figcaption>
    </figure>
  );
}

import { SegmentedControl } from '@mantine/core';
import {
  type ChainStep,
  figure,
  hertzFigure,
  type LongTermSpectrum,
  type Handle as StepHandle,
  signedFigure,
} from '@tonos/core';
import { type PointerEvent, useMemo, useRef, useState } from 'react';
import { FrequencyGrid, pointsOf } from '../../plots/FrequencyGrid.tsx';
import { exactHertzAtShare, hertzAtShare, shareOfHertz } from './frequency-axis.ts';
import classes from './Pictures.module.css';

type Handle = StepHandle<ChainStep['settings']>;

interface ResponsePictureProps {
  curve: (hz: number) => number;
  handles: readonly Handle[];
  before: LongTermSpectrum | undefined;
  after: LongTermSpectrum | undefined;
  onChange(settings: Record<string, unknown>): void;
}

const WIDTH = 620;
const HEIGHT = 196;
const RANGES = [6, 12, 24];
const SPECTRUM_SPAN_DB = 72;
const FINE_DB = 0.1;
const MOST_DB = 24;

/** Where a gain lies in the drawing; what goes beyond the range stays just outside it. */
const heightOf = (db: number, range: number): number =>
  HEIGHT / 2 - (Math.max(-1.2, Math.min(1.2, db / range)) * HEIGHT) / 2;

/** The gain over frequency with its points to take hold of, over the recording's own spectrum before and after. */
export function ResponsePicture({ curve, handles, before, after, onChange }: ResponsePictureProps) {
  const [range, setRange] = useState(12);
  const frame = useRef<SVGSVGElement>(null);
  const x = (hz: number) => WIDTH * shareOfHertz(hz);
  const y = (db: number) => heightOf(db, range);
  const line = useMemo(
    () =>
      Array.from({ length: 311 }, (_, i) => {
        const at = heightOf(curve(exactHertzAtShare(i / 310)), range);
        return `${2 * i},${at.toFixed(1)}`;
      }).join(' '),
    [curve, range],
  );
  const top = Math.max(-200, ...(before?.loudDb ?? []).filter((db) => db !== null)) + 6;
  const spectrumY = (db: number) => Math.min(HEIGHT, ((top - db) / SPECTRUM_SPAN_DB) * HEIGHT);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the axes hang on the spectra alone
  const [spectrumBefore, spectrumAfter] = useMemo(() => {
    const points = (spectrum: LongTermSpectrum | undefined) =>
      spectrum && pointsOf(spectrum.centresHz, spectrum.loudDb, x, spectrumY).join(' ');
    return [points(before), points(after)];
  }, [before, after]);

  const drag = (handle: Handle) => (event: PointerEvent<SVGElement>) => {
    const box = frame.current!.getBoundingClientRect();
    if (event.buttons !== 1) return;
    const hz = hertzAtShare((event.clientX - box.left) / box.width);
    const share = (event.clientY - box.top) / (box.height * (HEIGHT / (HEIGHT + 16)));
    const db = Math.max(-MOST_DB, Math.min(MOST_DB, Math.round((0.5 - share) * 2 * range * 10) / 10));
    onChange(handle.moved(Math.max(20, Math.min(20000, hz)), handle.movesGain ? db : handle.gainDb));
  };
  const nudge = (handle: Handle, key: string, coarse: boolean): boolean => {
    const by = coarse ? 10 : 1;
    const ratio = 2 ** (by / 48);
    const { frequencyHz: hz, gainDb: db } = handle;
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [hertzAtShare(shareOfHertz(hz / ratio)), db],
      ArrowRight: [hertzAtShare(shareOfHertz(hz * ratio)), db],
      ArrowUp: [hz, db + by * FINE_DB],
      ArrowDown: [hz, db - by * FINE_DB],
    };
    const to = moves[key];
    if (!to) return false;
    const gain = Math.max(-MOST_DB, Math.min(MOST_DB, Math.round(to[1] * 10) / 10));
    onChange(handle.moved(to[0], handle.movesGain ? gain : db));
    return true;
  };

  return (
    <figure className={classes.figure}>
      <svg
        ref={frame}
        className={classes.plot}
        viewBox={`0 0 ${WIDTH} ${HEIGHT + 16}`}
        role="group"
        aria-label="Response"
      >
        <FrequencyGrid x={x} height={HEIGHT} />
        {[-1, -0.5, 0, 0.5, 1].map((share) => (
          <g key={share}>
            <line
              className={share === 0 ? classes.zero : classes.rule}
              x1={0}
              x2={WIDTH}
              y1={y(share * range)}
              y2={y(share * range)}
            />
            {Math.abs(share) < 1 && (
              <text className={classes.text} x={2} y={y(share * range) - 3}>
                {share === 0 ? '0 dB' : signedFigure(share * range, 0)}
              </text>
            )}
          </g>
        ))}
        {before && <polyline className={classes.spectrumBefore} points={spectrumBefore} />}
        {after && <polyline className={classes.spectrumAfter} points={spectrumAfter} />}
        <polyline className={classes.curve} points={line} />
        {handles.map((handle) => (
          <circle
            key={handle.label}
            className={classes.handle}
            cx={x(handle.frequencyHz)}
            cy={y(handle.gainDb)}
            r={7}
            tabIndex={0}
            role="slider"
            aria-label={handle.label}
            aria-valuemin={-MOST_DB}
            aria-valuemax={MOST_DB}
            aria-valuenow={handle.gainDb}
            aria-valuetext={`${hertzFigure(handle.frequencyHz)}, ${figure(handle.gainDb)} dB`}
            onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onPointerMove={drag(handle)}
            onKeyDown={(event) => {
              if (!nudge(handle, event.key, event.shiftKey)) return;
              event.preventDefault();
              event.stopPropagation();
            }}
          />
        ))}
      </svg>
      <figcaption className={classes.caption}>
        <span>
          {before && after && (
            <>
              <span className={classes.keyBefore} /> before <span className={classes.keyAfter} /> after, where it is
              loud
            </>
          )}
        </span>
        <SegmentedControl
          size="xs"
          aria-label="Vertical range"
          data={RANGES.map((db) => ({ value: String(db), label: `\u00b1${db} dB` }))}
          value={String(range)}
          onChange={(value) => setRange(Number(value))}
        />
      </figcaption>
    </figure>
  );
}

import { useElementSize } from '@mantine/hooks';
import type { Recording, Target } from '@tonos/contract';
import { figure, hertzFigure, type Measurement, spectrogramHz } from '@tonos/core';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { api } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useListeningSeconds } from '../../listening/listening-clock.ts';
import { listeningSlice } from '../../listening/listening-slice.ts';
import { sourceOf } from '../../listening/source-of.ts';
import {
  type Surface as DrawingSurface,
  drawChannels,
  drawLoudness,
  drawSpectrogram,
  type Ink,
  loudnessY,
} from '../../plots/draw-plate.ts';
import { moved, secondsAt, shareAt, type TimeRange, timeTicks, zoomed } from '../../plots/time-axis.ts';
import { Wave } from '../../plots/Wave.tsx';
import { clock } from '../../ui/time.ts';
import classes from './Bench.module.css';
import { Surface } from './Surface.tsx';
import { useSight } from './use-sight.ts';

const HEIGHTS = { loudness: 104, wave: 152, spectrogram: 168 } as const;
const ZOOM = 0.6;
const STEP = 0.2;
const LOUDNESS_MARKS = [-10, -20, -30, -40, -50];
const HERTZ_MARKS = [100, 1000, 10000];

interface PlateProps {
  recording: Recording;
  measurement: Measurement;
  target: Target | undefined;
}

interface Pointer {
  share: number;
  /** Share of the spectrogram's height, from the bottom, where the pointer is over it. */
  pitch: number | null;
}

/** Loudness line, wave and spectrogram over one time axis. The wheel zooms, dragging moves, a click listens from there. */
export function Plate({ recording, measurement, target }: PlateProps) {
  const { ref, width } = useElementSize();
  const total = measurement.durationSeconds;
  const [range, setRange] = useState<TimeRange>({ fromSeconds: 0, toSeconds: total });
  const [pointer, setPointer] = useState<Pointer | null>(null);
  const columns = Math.min(4096, Math.round(width));
  const { view, spectra } = useSight(recording.id, range, columns);
  const { data: overview } = api.useRecordingOverviewQuery(recording.id);
  const listen = useListen(recording, measurement);
  const drag = useRef<{ x: number; range: TimeRange; far: boolean } | null>(null);
  const plate = useRef<HTMLDivElement>(null);
  const window = target?.limits.find(({ measure }) => measure === 'integratedLufs');

  const zoom = useCallback(
    (factor: number, around?: number) => setRange((now) => zoomed(now, around ?? secondsAt(now, 0.5), factor, total)),
    [total],
  );
  const shift = (share: number) => setRange((now) => moved(now, share * (now.toSeconds - now.fromSeconds), total));
  useHotkeys(['+', '='], () => zoom(ZOOM), { useKey: true });
  useHotkeys('-', () => zoom(1 / ZOOM), { useKey: true });
  useHotkeys('0', () => setRange({ fromSeconds: 0, toSeconds: total }));
  useHotkeys('left', () => shift(-STEP), { preventDefault: true });
  useHotkeys('right', () => shift(STEP), { preventDefault: true });
  useHotkeys('home', () => shift(-1e9), { preventDefault: true });
  useHotkeys('end', () => shift(1e9), { preventDefault: true });

  // React's own wheel listener is passive and could not keep the page from scrolling
  useEffect(() => {
    const element = plate.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const share = (event.clientX - box.left) / box.width;
      setRange((now) =>
        Math.abs(event.deltaX) > Math.abs(event.deltaY)
          ? moved(now, (event.deltaX / box.width) * (now.toSeconds - now.fromSeconds), total)
          : zoomed(now, secondsAt(now, share), 1.0022 ** event.deltaY, total),
      );
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [total]);

  const shareOf = (event: React.PointerEvent) => {
    const box = plate.current!.getBoundingClientRect();
    return (event.clientX - box.left) / box.width;
  };
  const pitchOf = (event: React.PointerEvent): number | null => {
    const surface = (event.target as HTMLElement).closest('[data-pitch]');
    if (!surface) return null;
    const box = surface.getBoundingClientRect();
    return 1 - (event.clientY - box.top) / box.height;
  };
  const move = (event: React.PointerEvent) => {
    setPointer({ share: shareOf(event), pitch: pitchOf(event) });
    if (!drag.current) return;
    const by = drag.current.x - event.clientX;
    if (Math.abs(by) > 3) drag.current.far = true;
    const held = drag.current.range;
    if (drag.current.far) setRange(moved(held, (by / width) * (held.toSeconds - held.fromSeconds), total));
  };
  const release = (event: React.PointerEvent) => {
    if (drag.current && !drag.current.far) listen(secondsAt(range, shareOf(event)));
    drag.current = null;
  };

  const drawWave = useCallback(
    (surface: Pick<DrawingSurface, 'context' | 'width' | 'height'>, ink: Ink) =>
      view && drawChannels({ ...surface, range }, view, ink),
    [view, range],
  );
  const drawLines = useCallback(
    (surface: Pick<DrawingSurface, 'context' | 'width' | 'height'>, ink: Ink) =>
      view && drawLoudness({ ...surface, range }, view, window, ink),
    [view, range, window],
  );
  const drawSpectra = useCallback(
    (surface: Pick<DrawingSurface, 'context' | 'width' | 'height'>, ink: Ink) =>
      spectra && drawSpectrogram({ ...surface, range }, spectra, ink.spectrum),
    [spectra, range],
  );
  const percent = (seconds: number) => `${100 * shareAt(range, seconds)}%`;
  const stretch = ({ startSeconds, endSeconds }: { startSeconds: number; endSeconds: number }) => ({
    left: percent(startSeconds),
    width: `${100 * (shareAt(range, endSeconds) - shareAt(range, startSeconds))}%`,
  });

  return (
    <section ref={ref} aria-label="Picture">
      <Overview
        columns={overview?.columns ?? []}
        range={range}
        total={total}
        onMove={(centre) => setRange((now) => moved(now, centre - secondsAt(now, 0.5), total))}
      />
      <div
        ref={plate}
        className={classes.plate}
        onPointerMove={move}
        onPointerLeave={() => setPointer(null)}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, range, far: false };
        }}
        onPointerUp={release}
        onPointerCancel={() => {
          drag.current = null;
        }}
      >
        <div className={classes.axis} aria-hidden>
          {timeTicks(range, width || 1).map(({ seconds, decimals }) => (
            <span key={seconds} className={classes.tick} style={{ left: percent(seconds) }}>
              {clock(seconds, decimals)}
            </span>
          ))}
        </div>
        <div className={classes.caption}>
          <span>Loudness: 400 ms thin, 3 s strong{window ? ', the target\u2019s window behind' : ''}</span>
          <span>LUFS</span>
        </div>
        <Surface width={width} height={HEIGHTS.loudness} draw={drawLines} label="Loudness of 400 ms and of 3 s">
          {LOUDNESS_MARKS.map((lufs) => (
            <span key={lufs} className={classes.scale} style={{ top: loudnessY(lufs, HEIGHTS.loudness) }}>
              {figure(lufs, 0)}
            </span>
          ))}
        </Surface>
        <div className={classes.caption}>
          <span>Wave: speech underlined, room tone shaded</span>
        </div>
        <Surface width={width} height={HEIGHTS.wave} draw={drawWave} label="Wave">
          {measurement.roomTone.map((tone) => (
            <span key={tone.startSeconds} className={classes.tone} style={stretch(tone)} />
          ))}
          {view?.speech.map((speech) => (
            <span key={speech.startSeconds} className={classes.speech} style={stretch(speech)} />
          ))}
        </Surface>
        <div className={classes.caption}>
          <span>Spectrogram</span>
          <span>Hz</span>
        </div>
        <div data-pitch>
          <Surface width={width} height={HEIGHTS.spectrogram} draw={drawSpectra} label="Spectrogram">
            {HERTZ_MARKS.map((hz) => (
              <span
                key={hz}
                className={classes.scale}
                style={{ bottom: `calc(${100 * pitchShare(hz, measurement.sampleRateHz)}% - 8px)`, transform: 'none' }}
              >
                {hz >= 1000 ? `${hz / 1000}k` : hz}
              </span>
            ))}
          </Surface>
        </div>
        {recording.marks.map((mark) => (
          <div key={`${mark.startSeconds} ${mark.name}`} className={classes.mark} style={stretch(mark)}>
            <span>{mark.name}</span>
          </div>
        ))}
        {pointer && <div className={classes.cursor} style={{ left: `${100 * pointer.share}%` }} />}
        <Playhead recordingId={recording.id} range={range} />
      </div>
      <Reading pointer={pointer} range={range} view={view} sampleRateHz={measurement.sampleRateHz} />
    </section>
  );
}

const pitchShare = (hz: number, sampleRateHz: number) =>
  Math.log(hz / spectrogramHz(0, sampleRateHz)) /
  Math.log(spectrogramHz(1, sampleRateHz) / spectrogramHz(0, sampleRateHz));

/** Listens from a moment of this recording. */
function useListen({ id, name }: Recording, measurement: Measurement): (seconds: number) => void {
  const dispatch = useAppDispatch();
  const listening = useAppSelector((state) => state.listening.listened);
  return (seconds) => {
    const source = sourceOf(id, measurement);
    if (listening?.source.track.url === source.track.url && !listening.result)
      dispatch(listeningSlice.actions.seekAsked(seconds));
    else
      dispatch(
        listeningSlice.actions.listened({
          listened: { name, source, result: null },
          side: 'source',
          fromSeconds: seconds,
        }),
      );
  };
}

function Playhead({ recordingId, range }: { recordingId: string; range: TimeRange }) {
  const seconds = useListeningSeconds();
  const own = useAppSelector(
    ({ listening: { listened } }) =>
      !!listened && 'recordingId' in listened.source.overview && listened.source.overview.recordingId === recordingId,
  );
  const share = shareAt(range, seconds);
  return own && share >= 0 && share <= 1 ? (
    <div className={classes.playhead} style={{ left: `${100 * share}%` }} />
  ) : null;
}

interface OverviewProps {
  columns: readonly (readonly [number, number])[];
  range: TimeRange;
  total: number;
  onMove(centreSeconds: number): void;
}

/** The whole recording, and which part of it the plate shows. */
function Overview({ columns, range, total, onMove }: OverviewProps) {
  const centre = (event: React.PointerEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    onMove(((event.clientX - box.left) / box.width) * total);
  };
  return (
    <div
      className={classes.overview}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        centre(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && centre(event)}
    >
      <Wave columns={columns} height={40} />
      <div
        className={classes.shown}
        style={{
          left: `${(100 * range.fromSeconds) / total}%`,
          width: `${(100 * (range.toSeconds - range.fromSeconds)) / total}%`,
        }}
      />
    </div>
  );
}

interface ReadingProps {
  pointer: Pointer | null;
  range: TimeRange;
  view: ReturnType<typeof useSight>['view'];
  sampleRateHz: number;
}

/** What lies under the pointer: time, level, loudness, frequency. */
function Reading({ pointer, range, view, sampleRateHz }: ReadingProps) {
  if (!pointer || !view)
    return (
      <div className={classes.reading}>
        The wheel or + and {'\u2212'} zoom, dragging or the arrows move, a click listens from there, 0 shows the whole.
      </div>
    );
  const seconds = secondsAt(range, pointer.share);
  const decimals = Math.min(5, Math.max(1, Math.ceil(-Math.log10((range.toSeconds - range.fromSeconds) / 1000))));
  const at = Math.floor(shareAt(view, seconds) * view.momentaryLufs.length);
  const peak = Math.max(...view.channels.map(({ low, high }) => Math.max(high[at] ?? 0, -(low[at] ?? 0))));
  const db = (value: number | null | undefined) =>
    value === null || value === undefined || !Number.isFinite(value) ? '\u2013' : figure(value);
  return (
    <div className={classes.reading}>
      <span>
        at <b>{clock(seconds, decimals)}</b>
      </span>
      <span>
        peak <b>{db(20 * Math.log10(peak))}</b> dBFS
      </span>
      <span>
        400 ms <b>{db(view.momentaryLufs[at])}</b> LUFS
      </span>
      <span>
        3 s <b>{db(view.shortTermLufs[at])}</b> LUFS
      </span>
      {pointer.pitch !== null && (
        <b>{hertzFigure(Number(spectrogramHz(pointer.pitch, sampleRateHz).toPrecision(3)))}</b>
      )}
    </div>
  );
}

import type { RecordingView } from '@tonos/contract';
import { figure, hertzFigure, spectrogramHz } from '@tonos/core';
import { secondsAt, shareAt, type TimeRange } from '../../plots/time-axis.ts';
import { clock } from '../../ui/time.ts';
import classes from './Bench.module.css';
import type { Pointer } from './use-plate-pointer.ts';

interface ReadingProps {
  pointer: Pointer | null;
  range: TimeRange;
  view: RecordingView | null;
  sampleRateHz: number;
}

/** As many decimals as a pixel's width needs. */
export const decimalsOf = ({ fromSeconds, toSeconds }: TimeRange): number =>
  Math.min(5, Math.max(1, Math.ceil(-Math.log10((toSeconds - fromSeconds) / 1000))));

/** What lies under the pointer: time, level, loudness, frequency. */
export function Reading({ pointer, range, view, sampleRateHz }: ReadingProps) {
  if (!pointer || !view)
    return (
      <div className={classes.reading}>
        The wheel or + and {'\u2212'} zoom, the arrows move, a click listens from there, dragging or Shift with the
        arrows chooses a stretch.
      </div>
    );
  const seconds = secondsAt(range, pointer.share);
  const at = Math.floor(shareAt(view, seconds) * view.momentaryLufs.length);
  const peak = Math.max(...view.channels.map(({ low, high }) => Math.max(high[at] ?? 0, -(low[at] ?? 0))));
  const db = (value: number | null | undefined) =>
    value === null || value === undefined || !Number.isFinite(value) ? '\u2013' : figure(value);
  return (
    <div className={classes.reading}>
      <span>
        at <b>{clock(seconds, decimalsOf(range))}</b>
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

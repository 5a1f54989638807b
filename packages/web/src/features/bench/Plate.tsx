import { useElementSize, useMergedRef } from '@mantine/hooks';
import { nanoid } from '@reduxjs/toolkit';
import type { Recording, RecordingSet, Target } from '@tonos/contract';
import {
  type ComplaintPlace,
  figure,
  type Measurement,
  spanOf,
  spectrogramHz,
  type TimeSpan,
  withoutNever,
} from '@tonos/core';
import { scaleLog } from 'd3-scale';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { api } from '../../api/api.ts';
import { listeningSeconds } from '../../listening/listening-clock.ts';
import {
  type Surface as DrawingSurface,
  drawChannels,
  drawLoudness,
  drawPeaks,
  drawSpectrogram,
  drawSpeech,
  type Ink,
  loudnessY,
} from '../../plots/draw-plate.ts';
import { secondsAt, shareAt, timeTicks } from '../../plots/time-axis.ts';
import { clock } from '../../ui/time.ts';
import classes from './Bench.module.css';
import { cutHint, cutLabel } from './cut-words.ts';
import { hearable } from './hearable.ts';
import marks from './Marks.module.css';
import { MemberWaves } from './MemberWaves.tsx';
import { isBox, type Selection, withBox, withMark, withMarkChanged, withRoomTone } from './markings.ts';
import { Overview } from './Overview.tsx';
import { Playhead } from './Playhead.tsx';
import { decimalsOf, Reading } from './Reading.tsx';
import { SelectionActs } from './SelectionActs.tsx';
import { SpanLane } from './SpanLane.tsx';
import { Surface } from './Surface.tsx';
import { placeIn, useChooseKeys } from './use-choose-keys.ts';
import { type Cutting, isElsewhere } from './use-cutting.ts';
import type { Marking } from './use-markings.ts';
import { usePlatePointer } from './use-plate-pointer.ts';
import { useSight } from './use-sight.ts';
import { useTimeRange } from './use-time-range.ts';

const HEIGHTS = { loudness: 96, wave: 144, spectrogram: 164 } as const;
const LOUDNESS_MARKS = [-10, -20, -30, -40, -50];
/** Shown beside a short complaint on either side. */
const AROUND_SECONDS = 1;
const HEARABLE_SECONDS = 0.4;
const HERTZ_MARKS = [100, 1000, 10000];

interface PlateProps {
  recording: Recording;
  measurement: Measurement;
  target: Target | undefined;
  marking: Marking;
  listen: { from(seconds: number): void; repeat(span: TimeSpan): void };
  cutting: Cutting;
  /** The set that it is linked in, and who else the title holds. */
  set: RecordingSet | undefined;
  siblings: readonly Recording[];
  /** Where a complaint, or a cut, was gone to last. */
  place: ComplaintPlace | null;
}

type Canvas = Pick<DrawingSurface, 'context' | 'width' | 'height'>;

/** Loudness line, wave and spectrogram over one time axis, and what is marked in them. */
export function Plate({ recording, measurement, target, marking, listen, cutting, set, siblings, place }: PlateProps) {
  const { ref: sizeRef, width } = useElementSize();
  const plate = useRef<HTMLDivElement>(null);
  const plateRef = useMergedRef(sizeRef, plate);
  const { sampleRateHz, durationSeconds: total } = measurement;
  const { range, show, move } = useTimeRange(total, plate);
  const [selection, select] = useState<Selection | null>(null);
  const { view, spectra } = useSight(recording.id, range, Math.min(4096, Math.round(width)));
  const { data: overview } = api.useRecordingOverviewQuery(recording.id);
  const { pointer, on } = usePlatePointer({ plate, range, sampleRateHz, select, click: listen.from });
  const { present, change } = marking;
  const first = useRef<HTMLInputElement>(null);
  const { edge, bounds } = useChooseKeys({ range, totalSeconds: total, sampleRateHz, selection, select });
  useHotkeys(
    't',
    () => {
      if (!selection) select(placeIn(range));
      // it is there with the next picture
      requestAnimationFrame(() => first.current?.focus());
    },
    { preventDefault: true },
  );
  // what is gone to is chosen, and shown with what lies around it
  useEffect(() => {
    if (!place) return;
    const { lowHz, highHz } = place;
    const isShort = place.endSeconds - place.startSeconds < HEARABLE_SECONDS;
    const { startSeconds, endSeconds } = isShort ? hearable(place) : place;
    const around = Math.max(AROUND_SECONDS, endSeconds - startSeconds);
    select({
      startSeconds,
      endSeconds,
      ...(lowHz && highHz ? { lowHz, highHz: Math.min(highHz, sampleRateHz / 2) } : {}),
    });
    show({ fromSeconds: startSeconds - around, toSeconds: endSeconds + around });
  }, [place, show, sampleRateHz]);
  const window = target?.limits.find(({ measure }) => measure === 'integratedLufs');
  const limitDbtp = peakLimitOf(target);
  const markHere = (span: TimeSpan) => change(withMark(present, span, nanoid(10)));
  useHotkeys('escape', () => select(null));
  const here = () => (pointer ? secondsAt(range, pointer.share) : listeningSeconds());
  useHotkeys(
    'm',
    () => {
      const seconds = here();
      markHere({ startSeconds: seconds, endSeconds: seconds });
    },
    { enabled: !selection },
  );
  useHotkeys('e', () => cutting.pause(here()), { enabled: !selection });
  const { chosen } = cutting;
  const cut = (act: (span: TimeSpan) => void) => {
    if (selection) act(selection);
    select(null);
  };

  const drawWave = useCallback(
    (canvas: Canvas, ink: Ink) => {
      if (!view) return;
      drawChannels({ ...canvas, range }, view, ink);
      drawSpeech({ ...canvas, range }, view, ink);
      drawPeaks({ ...canvas, range }, view, limitDbtp, ink);
    },
    [view, range, limitDbtp],
  );
  const drawLines = useCallback(
    (canvas: Canvas, ink: Ink) => view && drawLoudness({ ...canvas, range }, view, window, ink),
    [view, range, window],
  );
  const drawSpectra = useCallback(
    (canvas: Canvas, ink: Ink) => spectra && drawSpectrogram({ ...canvas, range }, spectra, ink.spectrum),
    [spectra, range],
  );
  const percent = (seconds: number) => `${100 * shareAt(range, seconds)}%`;
  const stretch = ({ startSeconds, endSeconds }: TimeSpan) => ({
    left: percent(startSeconds),
    width: `${100 * (shareAt(range, endSeconds) - shareAt(range, startSeconds))}%`,
  });
  const boxed = (box: Required<Selection>) => {
    const bottom = pitchShare(box.lowHz, sampleRateHz);
    return {
      ...stretch(box),
      bottom: `${100 * bottom}%`,
      height: `${100 * (pitchShare(box.highHz, sampleRateHz) - bottom)}%`,
    };
  };

  return (
    <section aria-label="Picture">
      <Overview
        columns={overview?.columns ?? []}
        range={range}
        total={total}
        onMove={(centre) => move(centre - secondsAt(range, 0.5))}
      />
      <div ref={plateRef} className={classes.plate}>
        {cutting.cuts.length > 0 && (
          <SpanLane
            label="Folds"
            look="cut"
            spans={cutting.cuts.map((cut) => ({
              id: cut.id ?? '',
              name: cutLabel(cut),
              ...spanOf(cut),
              hint: cutHint(cut),
              off: !cut.on,
            }))}
            range={range}
            totalSeconds={total}
            width={width || 1}
            onChoose={({ id, startSeconds, endSeconds }) => {
              cutting.choose(id);
              select({ startSeconds, endSeconds });
            }}
            onMove={(span, to) => {
              const cut = cutting.cuts.find(({ id }) => id === span.id);
              if (cut) cutting.move(cut, ordered({ ...spanOf(cut), ...to }));
            }}
          />
        )}
        <div className={classes.axis} aria-hidden>
          {timeTicks(range, width || 1).map(({ seconds, decimals }) => (
            <span key={seconds} className={classes.tick} style={{ left: percent(seconds) }}>
              {clock(seconds, decimals)}
            </span>
          ))}
        </div>
        {present.marks.length > 0 && (
          <SpanLane
            label="Marked"
            look="mark"
            spans={present.marks}
            range={range}
            totalSeconds={total}
            width={width || 1}
            onChoose={({ startSeconds, endSeconds }) =>
              endSeconds > startSeconds ? select({ startSeconds, endSeconds }) : listen.from(startSeconds)
            }
            onMove={({ id }, to) => change(withMarkChanged(present, id, to))}
          />
        )}
        <div className={classes.surfaces} {...on}>
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
            <span>
              Wave: speech underlined, room tone shaded; marked above it: true peaks over {figure(limitDbtp, 1)} dBTP,
              and flat tops below those
            </span>
          </div>
          <Surface width={width} height={HEIGHTS.wave} draw={drawWave} label="Wave">
            {withoutNever(measurement.roomTone, present.roomToneChoice).map((tone) => (
              <span key={tone.startSeconds} className={classes.tone} style={stretch(tone)} />
            ))}
            {present.roomToneChoice.use.map((span) => (
              <span key={span.startSeconds} className={classes.ownTone} style={stretch(span)} />
            ))}
            {present.roomToneChoice.never.map((span) => (
              <span key={span.startSeconds} className={classes.neverTone} style={stretch(span)} />
            ))}
          </Surface>
          {set && <MemberWaves recordingId={recording.id} set={set} siblings={siblings} range={range} width={width} />}
          <div className={classes.caption}>
            <span>Spectrogram</span>
            <span>Hz</span>
          </div>
          <div data-pitch className={classes.pitch}>
            <Surface width={width} height={HEIGHTS.spectrogram} draw={drawSpectra} label="Spectrogram">
              {HERTZ_MARKS.map((hz) => (
                <span
                  key={hz}
                  className={classes.scale}
                  style={{ bottom: `calc(${100 * pitchShare(hz, sampleRateHz)}% - 8px)`, transform: 'none' }}
                >
                  {hz >= 1000 ? `${hz / 1000}k` : hz}
                </span>
              ))}
            </Surface>
            {present.boxes.map((box) => (
              <div key={`${box.startSeconds} ${box.lowHz}`} className={marks.box} style={boxed(box)}>
                {figure(box.gainDb, 0)} dB
              </div>
            ))}
            {selection && isBox(selection) && <div className={marks.chosenBox} style={boxed(selection)} />}
          </div>
          {cutting.cuts.map((cut) => (
            <div
              key={cut.id}
              className={marks.cutShade}
              data-covers={(cut.kind !== 'take-out' && cut.on && !cutting.uncut) || undefined}
              data-off={!cut.on || cutting.uncut || undefined}
              style={stretch(spanOf(cut))}
            />
          ))}
          {present.marks.map((mark) => (
            <div key={mark.id} className={marks.shade} style={stretch(mark)} />
          ))}
          {selection && !isBox(selection) && <div className={marks.chosen} style={stretch(selection)} />}
          {pointer && <div className={classes.cursor} style={{ left: `${100 * pointer.share}%` }} />}
          <Playhead recordingId={recording.id} range={range} move={move} />
        </div>
      </div>
      {selection ? (
        <SelectionActs
          selection={selection}
          edge={edge}
          bounds={bounds}
          first={first}
          select={select}
          decimals={Math.max(2, decimalsOf(range))}
          repeat={() => listen.repeat(selection)}
          closer={() => show({ fromSeconds: selection.startSeconds, toSeconds: selection.endSeconds })}
          mark={() => markHere(selection)}
          roomTone={(said) => {
            change(withRoomTone(present, selection, said));
            select(null);
          }}
          turnDown={(gainDb) => {
            if (isBox(selection)) change(withBox(present, { ...selection, gainDb }, nanoid(10)));
            select(null);
          }}
          takeOut={() => cut(cutting.takeOut)}
          cover={() => cut(cutting.cover)}
          pickUp={cutting.pickUp && (() => cut(cutting.pickUp!))}
          pause={() => cut(({ startSeconds }) => cutting.pause(startSeconds))}
          moveCut={
            chosen && isElsewhere(chosen, selection)
              ? () => cutting.move(chosen, { startSeconds: selection.startSeconds, endSeconds: selection.endSeconds })
              : undefined
          }
        />
      ) : (
        <Reading pointer={pointer} range={range} view={view} sampleRateHz={sampleRateHz} />
      )}
    </section>
  );
}

const ordered = ({ startSeconds, endSeconds }: TimeSpan): TimeSpan => ({
  startSeconds: Math.min(startSeconds, endSeconds),
  endSeconds: Math.max(startSeconds, endSeconds),
});

/** The target's lowest limit on peaks; without one, full scale. */
const peakLimitOf = (target: Target | undefined): number =>
  Math.min(
    0,
    ...(target?.limits ?? []).flatMap(({ measure, max }) =>
      (measure === 'truePeakDbtp' || measure === 'samplePeakDbfs') && max !== null ? [max] : [],
    ),
  );

const pitchShare = (hz: number, sampleRateHz: number) =>
  scaleLog([spectrogramHz(0, sampleRateHz), spectrogramHz(1, sampleRateHz)], [0, 1])(hz);

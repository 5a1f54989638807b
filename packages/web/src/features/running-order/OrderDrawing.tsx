import { ActionIcon, Button, Switch, Tooltip } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconPlayerPauseFilled, IconPlayerPlayFilled, IconZoomIn, IconZoomOut } from '@tabler/icons-react';
import type { GainLine, OrderFile, OrderPart, PlacedPart, ResolvedOrder } from '@tonos/core';
import { memo, useMemo, useRef, useState } from 'react';
import { api } from '../../api/api.ts';
import { useListeningSeconds } from '../../listening/listening-clock.ts';
import { timeTicks } from '../../plots/time-axis.ts';
import { clock } from '../../ui/time.ts';
import { GroupName } from './GroupName.tsx';
import { LoudnessLine, type Window } from './LoudnessLine.tsx';
import { RATE, secondsOf, withUnmoved } from './lay-out-order.ts';
import classes from './OrderDrawing.module.css';
import { type Heard, LOUDNESS_STEP_SECONDS } from './order-sound.ts';
import { beginsWords, distanceWords } from './order-words.ts';
import { lanesOf, soundingSpans, wavePath } from './plate-path.ts';
import type { LedgerProgress, OrderLedger } from './use-order-ledger.ts';
import type { OrderSound } from './use-order-sound.ts';
import { usePlateDrag } from './use-plate-drag.ts';

const NAMES = 116;
const RULER = 26;
const PLATE = 46;
const OVER_PLATE = 20;
const LOUDNESS = 76;
const MOST_ZOOM = 32;

interface OrderDrawingProps {
  order: OrderFile;
  resolved: ResolvedOrder;
  /** Lays out what is being dragged. */
  layOut(order: OrderFile): ResolvedOrder | undefined;
  /** Whose wave each part shows: none while it is being measured. */
  waveOf(part: OrderPart): string | undefined;
  sound: OrderSound;
  ledger: OrderLedger;
  progress: LedgerProgress;
  heard: Heard;
  /** What the target allows. */
  window: Window | undefined;
  chosen: string | null;
  onChoose(id: string): void;
  /** Begins a part so many seconds later, or earlier. */
  onShift(id: string, bySeconds: number): void;
  onHear(heard: Heard): void;
}

/** The programme to scale on one ruler: a band for each group, its parts as plates. A plate that is dragged changes the figure in its row. */
export function OrderDrawing(props: OrderDrawingProps) {
  const {
    resolved: standing,
    layOut,
    waveOf,
    sound,
    ledger,
    progress,
    heard,
    window,
    chosen,
    onChoose,
    onShift,
    onHear,
  } = props;
  const { order, held, drag, letGo } = usePlateDrag(props.order, onShift);
  const last = useRef(standing);
  // what can't lie where it is dragged to stays where it could
  if (order === props.order) last.current = standing;
  else last.current = withUnmoved(last.current, layOut(order) ?? last.current);
  const resolved = last.current;
  const measured = ledger.fresh ? ledger.ledger : null;
  const { ref, width: frameWidth } = useElementSize();
  const [zoom, setZoom] = useState(1);
  const shownFrames = useRef(resolved.frames);
  if (!held) shownFrames.current = resolved.frames;
  const frames = Math.max(RATE, shownFrames.current);
  const seconds = secondsOf(frames);
  const width = Math.max(300, (frameWidth || 900) - NAMES - 16) * zoom;
  const scale = width / frames;
  const ticks = timeTicks({ fromSeconds: 0, toSeconds: seconds }, width);
  const nameOf = (id: string) => order.parts.find((part) => part.id === id)?.name || id;
  let top = RULER;
  const bands = order.groups.map((group) => {
    const parts = resolved.parts.filter(({ part }) => part.group === group.id);
    const lanes = lanesOf(parts);
    const height = Math.max(1, new Set(lanes.values()).size) * (PLATE + OVER_PLATE) + 8;
    const band = { group, parts, lanes, top, height };
    top += height;
    return band;
  });
  return (
    <section aria-label="Programme" ref={ref}>
      <div className={classes.tools}>
        <Button
          size="compact-sm"
          variant="default"
          leftSection={sound.playing ? <IconPlayerPauseFilled size={14} /> : <IconPlayerPlayFilled size={14} />}
          onClick={sound.toggle}
        >
          {sound.playing ? 'Pause' : 'Listen'}
        </Button>
        {order.under.length > 0 && (
          <Switch
            size="xs"
            label="giving way"
            checked={heard.givesWay}
            onChange={(event) => onHear({ ...heard, givesWay: event.currentTarget.checked })}
          />
        )}
        <Measuring {...progress} />
        <span className={classes.apart} />
        <span className="quiet small">{clock(seconds, 1)} in all</span>
        <Tooltip label="Further">
          <ActionIcon
            variant="default"
            aria-label="Show more of it"
            disabled={zoom <= 1}
            onClick={() => setZoom(Math.max(1, zoom / 2))}
          >
            <IconZoomOut size={16} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Closer">
          <ActionIcon
            variant="default"
            aria-label="Show it closer"
            disabled={zoom >= MOST_ZOOM}
            onClick={() => setZoom(Math.min(MOST_ZOOM, zoom * 2))}
          >
            <IconZoomIn size={16} />
          </ActionIcon>
        </Tooltip>
      </div>
      <div className={`${classes.frame} ${classes.scroll}`}>
        <svg
          className={classes.drawing}
          width={NAMES + width + 12}
          height={top + LOUDNESS + 14}
          role="group"
          aria-label="Parts"
        >
          {ticks.map(({ seconds: at, decimals }) => (
            <g key={at} transform={`translate(${NAMES + (at / seconds) * width} 0)`}>
              <line className={classes.tick} y2={9} />
              <text className={classes.tickWord} x={4} y={13}>
                {clock(at, decimals)}
              </text>
            </g>
          ))}
          {/* biome-ignore lint/a11y/noStaticElementInteractions: with the keyboard one listens from a part, or moves in the strip */}
          <rect
            className={classes.ruler}
            x={NAMES}
            width={width}
            height={RULER}
            onClick={(event) => {
              const { left } = event.currentTarget.getBoundingClientRect();
              sound.listenFrom(((event.clientX - left) / width) * seconds);
            }}
          />
          {bands.map(({ group, parts, lanes, top: y, height }) => (
            <g key={group.id} transform={`translate(0 ${y})`}>
              <line className={classes.band} x2={NAMES + width + 12} y1={height} y2={height} />
              <GroupName order={order} id={group.id} heard={heard} onHear={onHear} />
              {parts.map((placed) => (
                <g
                  key={placed.part.id}
                  transform={`translate(${NAMES + placed.start * scale} ${OVER_PLATE + (lanes.get(placed.part.id) ?? 0) * (PLATE + OVER_PLATE)})`}
                >
                  <Distance placed={placed} resolved={resolved} scale={scale} />
                  <Plate
                    placed={placed}
                    recordingId={waveOf(placed.part)}
                    scale={scale}
                    chosen={placed.part.id === chosen}
                    words={beginsWords(placed.part, nameOf)}
                    onChoose={onChoose}
                    onShift={onShift}
                    onDrag={drag}
                    onLetGo={letGo}
                  />
                </g>
              ))}
              {(sound.lines[group.id] ?? []).map((line, i) => (
                <g
                  // biome-ignore lint/suspicious/noArrayIndexKey: the ways of a group have an order and no name
                  key={i}
                  transform={`translate(${NAMES} ${OVER_PLATE})`}
                >
                  <WayLine line={line} seconds={seconds} width={width} />
                </g>
              ))}
            </g>
          ))}
          <g transform={`translate(0 ${top + 8})`}>
            <text className={classes.groupName} y={16}>
              The whole
            </text>
            <text className={classes.groupNote} y={32}>
              LUFS over 3 s
            </text>
            {!measured && hasChains(order) && (
              <text className={classes.groupNote} y={47}>
                before chains
              </text>
            )}
            <g transform={`translate(${NAMES} 0)`}>
              <LoudnessLine
                values={measured ? measured.shortTermLufs : sound.loudness}
                stepSeconds={LOUDNESS_STEP_SECONDS}
                window={window}
                width={width}
                height={LOUDNESS}
                seconds={seconds}
              />
            </g>
          </g>
          {sound.own && (
            <g transform={`translate(${NAMES} 0)`}>
              <Now seconds={seconds} width={width} height={top + LOUDNESS + 10} />
            </g>
          )}
        </svg>
      </div>
    </section>
  );
}

const hasChains = ({ chain, groups, parts }: OrderFile): boolean =>
  [chain, ...groups.map((one) => one.chain), ...parts.map((one) => one.chain)].some((one) => one !== null);

/** What is being found out, or why it could not be. */
function Measuring({ share, trouble }: LedgerProgress) {
  if (trouble !== null) return <span className="verdict-over small">Not measured: {trouble}</span>;
  if (share === null) return null;
  return <span className="quiet small">Measuring the programme, {Math.round(100 * share)} %</span>;
}

/** Where the sound is. */
function Now({ seconds, width, height }: { seconds: number; width: number; height: number }) {
  const x = (useListeningSeconds() / seconds) * width;
  return <line className={classes.now} x1={x} x2={x} y2={height} />;
}

/** 24 dB are as high as a plate. */
const WAY_DB = 24;

/** How far a group is down while others speak. */
function WayLine({ line, seconds, width }: { line: GainLine; seconds: number; width: number }) {
  const points = line.map(
    ([at, db]) => `${((at / seconds) * width).toFixed(1)} ${((Math.min(WAY_DB, -db) / WAY_DB) * PLATE).toFixed(1)}`,
  );
  return points.length ? <path className={classes.way} d={`M0 0L${points.join('L')}L${width} 0`} /> : null;
}

interface PlateProps {
  placed: PlacedPart;
  recordingId: string | undefined;
  scale: number;
  chosen: boolean;
  /** How it begins. */
  words: string;
  onChoose(id: string): void;
  onShift(id: string, bySeconds: number): void;
  onDrag(id: string, bySeconds: number): void;
  onLetGo(): void;
}

const Plate = memo(function Plate(props: PlateProps) {
  const { placed, recordingId, scale, chosen, words, onChoose, onShift, onDrag, onLetGo } = props;
  const { data: overview } = api.useRecordingOverviewQuery(recordingId ?? '', { skip: !recordingId });
  const { part, start, end, fadeIn, fadeOut } = placed;
  const { columns = [] } = overview ?? {};
  // what does not change while it is shifted is not drawn again
  const shape = JSON.stringify([end - start, placed.ownFrames, placed.openings]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the shape is what counts
  const path = useMemo(() => wavePath(placed, columns, { scale, height: PLATE }), [shape, columns, scale]);
  const held = useRef<number>(null);
  const fixed = 'into' in part.begins;
  const name = part.name || part.id;
  const width = (end - start) * scale;
  return (
    <g
      className={classes.plate}
      role="button"
      tabIndex={0}
      aria-label={`${name}, ${words}`}
      aria-pressed={chosen}
      data-chosen={chosen || undefined}
      data-fixed={fixed || undefined}
      onFocus={() => onChoose(part.id)}
      onPointerDown={(event) => {
        onChoose(part.id);
        if (fixed || event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = event.clientX;
      }}
      onPointerMove={(event) => {
        if (held.current === null) return;
        const by = event.clientX - held.current;
        if (Math.abs(secondsOf(by / scale)) < 0.005) return;
        held.current = event.clientX;
        onDrag(part.id, secondsOf(by / scale));
      }}
      onPointerUp={() => {
        held.current = null;
        onLetGo();
      }}
      onPointerCancel={() => {
        held.current = null;
        onLetGo();
      }}
      onKeyDown={(event) => {
        if (fixed || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
        event.preventDefault();
        const step = event.altKey ? 0.01 : event.shiftKey ? 1 : 0.1;
        onShift(part.id, event.key === 'ArrowLeft' ? -step : step);
      }}
    >
      {soundingSpans(placed).map(({ from, to }) => (
        <rect key={from} x={from * scale} width={Math.max(1, (to - from) * scale)} height={PLATE} rx={1} />
      ))}
      <path className={classes.wave} d={path} />
      <FadeLine frames={fadeIn.frames} at={0} rises scale={scale} />
      <FadeLine frames={fadeOut.frames} at={width - fadeOut.frames * scale} scale={scale} />
      <text className={classes.partName} x={5} y={13}>
        {width > 40 ? name.slice(0, Math.floor(width / 7)) : ''}
      </text>
    </g>
  );
});

/** The gain of a fade over its plate, as an S. */
function FadeLine({
  frames,
  at,
  rises = false,
  scale,
}: {
  frames: number;
  at: number;
  rises?: boolean;
  scale: number;
}) {
  if (frames <= 0) return null;
  const width = frames * scale;
  const [from, to] = rises ? [PLATE, 0] : [0, PLATE];
  const third = width / 3;
  return (
    <path
      className={classes.fade}
      d={`M${at} ${from}C${at + third} ${from} ${at + 2 * third} ${to} ${at + width} ${to}`}
    />
  );
}

/** A dimension line from what a part hangs on to where it begins. */
function Distance({ placed, resolved, scale }: { placed: PlacedPart; resolved: ResolvedOrder; scale: number }) {
  const { begins } = placed.part;
  const words = distanceWords(placed.part, secondsOf(placed.end - placed.start));
  if (!words) return null;
  const other = 'after' in begins ? begins.after : 'with' in begins ? begins.with : null;
  const from = resolved.parts.find(({ part }) => part.id === other);
  const since = 'after' in begins ? (from?.end ?? 0) : (from?.start ?? 0);
  const x = 'into' in begins ? (placed.end - placed.start) * scale : (since - placed.start) * scale;
  const [left, right] = [Math.min(0, x), Math.max(0, x)];
  return (
    <g transform="translate(0 -8)" aria-hidden>
      <path className={classes.distanceLine} d={`M${left} -4V4M${right} -4V4M${left} 0H${right}`} />
      <text className={classes.distance} x={right + 5} y={4}>
        {words}
      </text>
    </g>
  );
}

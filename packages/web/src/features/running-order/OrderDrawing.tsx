import { ActionIcon, Button, Switch, Tooltip } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconPlayerPauseFilled, IconPlayerPlayFilled, IconZoomIn, IconZoomOut } from '@tabler/icons-react';
import type { GainLine, OrderFile, OrderPart, ResolvedOrder } from '@tonos/core';
import { useRef, useState } from 'react';
import { useListeningSeconds } from '../../listening/listening-clock.ts';
import { timeTicks } from '../../plots/time-axis.ts';
import { clock } from '../../ui/time.ts';
import { GroupName } from './GroupName.tsx';
import { LoudnessLine, type Window, windowWords } from './LoudnessLine.tsx';
import { RATE, secondsOf, withUnmoved } from './lay-out-order.ts';
import classes from './OrderDrawing.module.css';
import { type Heard, LOUDNESS_STEP_SECONDS } from './order-sound.ts';
import { beginsWords } from './order-words.ts';
import { Distance, PLATE, Plate, reachOf } from './Plate.tsx';
import { lanesOf } from './plate-path.ts';
import type { LedgerProgress, OrderLedger } from './use-order-ledger.ts';
import type { OrderSound } from './use-order-sound.ts';
import { usePlateDrag } from './use-plate-drag.ts';

const NAMES = 116;
const RULER = 26;
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
    const lanes = lanesOf(parts, (placed) => reachOf(placed, resolved, scale));
    const height = Math.max(1, new Set(lanes.values()).size) * (PLATE + OVER_PLATE) + 8;
    const band = { group, parts, lanes, top, height };
    top += height;
    return band;
  });
  const wholeNotes = [
    'LUFS over 3 s',
    ...(window ? ['target', windowWords(window)] : []),
    ...(!measured && hasChains(order) ? ['before chains'] : []),
  ];
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
            {wholeNotes.map((words, i) => (
              <text key={words} className={classes.groupNote} y={30 + 14 * i}>
                {words}
              </text>
            ))}
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
function Measuring({ share, trouble, again }: LedgerProgress) {
  if (trouble !== null)
    return (
      <>
        <span className="verdict-over small">Not measured: {trouble}</span>
        <Button size="compact-xs" variant="default" onClick={again}>
          Try again
        </Button>
      </>
    );
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

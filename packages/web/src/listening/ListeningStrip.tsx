import { ActionIcon, SegmentedControl, Switch, Tooltip } from '@mantine/core';
import { IconPlayerPauseFilled, IconPlayerPlayFilled, IconRepeat } from '@tabler/icons-react';
import type { TimeSpan } from '@tonos/core';
import { figure } from '@tonos/core';
import { useEffect, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useLocation } from 'react-router';
import { api } from '../api/api.ts';
import { type RootState, useAppDispatch, useAppSelector } from '../app/store.ts';
import { Wave } from '../plots/Wave.tsx';
import { clock } from '../ui/time.ts';
import { DeviceMenu } from './DeviceMenu.tsx';
import classes from './ListeningStrip.module.css';
import { matchGainDb } from './level-match.ts';
import { listeningSeconds, useListeningSeconds } from './listening-clock.ts';
import { listeningController } from './listening-controller.ts';
import { type Listened, listeningSlice, type Playable, playableOf, type Side } from './listening-slice.ts';
import { MeterFigures } from './MeterFigures.tsx';

const { playingChanged, sideChosen, levelMatchChanged, loopChosen, scrubbed, seekAsked } = listeningSlice.actions;
const SEEK_SECONDS = 5;
/** What a page shows comes first: nothing must have been on its way for so long. */
const WARM_MS = 500;

const isAsking = ({ api: { queries } }: RootState) =>
  Object.values(queries).some((query) => query?.status === 'pending');

/** At the foot of every page: what is being listened to. */
export function ListeningStrip() {
  const { listened } = useAppSelector((state) => state.listening);
  const asking = useAppSelector(isAsking);
  useEffect(() => {
    if (asking) return undefined;
    const timer = setTimeout(() => listeningController.warm(), WARM_MS);
    return () => clearTimeout(timer);
  }, [asking]);
  return (
    <section className={classes.strip} aria-label="Listening">
      {listened ? (
        <Player listened={listened} />
      ) : (
        <span className="quiet small">Choose the play mark of a recording to listen to it here.</span>
      )}
    </section>
  );
}

function Player({ listened }: { listened: Listened }) {
  const dispatch = useAppDispatch();
  const { side, playing, levelMatched, loop } = useAppSelector((state) => state.listening);
  const playable = playableOf(listened, side);
  const gainDb = levelMatched ? matchGainDb(listened, side) : 0;
  const choose = (chosen: Side) => dispatch(sideChosen(chosen, listeningSeconds()));
  useHotkeys('space', () => dispatch(playingChanged(!playing)), {
    preventDefault: true,
    ignoreEventWhen: ({ target }) => (target as HTMLElement).closest('button, [role=switch]') !== null,
  });
  useHotkeys('comma', () => dispatch(seekAsked(listeningSeconds() - SEEK_SECONDS)));
  useHotkeys('period', () => dispatch(seekAsked(Math.min(playable.seconds, listeningSeconds() + SEEK_SECONDS))));
  useHotkeys('s', () => choose('source'));
  useHotkeys('r', () => choose('result'));
  // elsewhere these letters belong to the page
  const enabled = useLocation().pathname.startsWith('/chains/');
  useHotkeys('f', () => choose('so-far'), { enabled });
  useHotkeys('c', () => choose('chain'), { enabled });
  useHotkeys('x', () => choose('removed'), { enabled });
  const before = useRef<Side | null>(null);
  useHotkeys(
    'b',
    ({ type }) => {
      if (type === 'keydown' && before.current === null) {
        before.current = side;
        choose('source');
      } else if (type === 'keyup' && before.current !== null) {
        choose(before.current);
        before.current = null;
      }
    },
    { keydown: true, keyup: true, enabled },
  );
  return (
    <>
      <ActionIcon size="lg" aria-label={playing ? 'Pause' : 'Play'} onClick={() => dispatch(playingChanged(!playing))}>
        {playing ? <IconPlayerPauseFilled size={20} /> : <IconPlayerPlayFilled size={20} />}
      </ActionIcon>
      <div className={classes.what}>
        <span className={classes.name} title={listened.name}>
          {listened.name}
        </span>
        <span className={`figure ${classes.time}`}>
          <Now /> <span className="quiet">/ {clock(playable.seconds, 1)}</span>
        </span>
      </div>
      <Timeline playable={playable} loop={loop} scrub={(to) => dispatch(scrubbed(to))} />
      {loop && (
        <Tooltip label={`Repeats ${clock(loop.startSeconds, 1)} to ${clock(loop.endSeconds, 1)}: press to go on`}>
          <ActionIcon aria-label="Stop repeating" onClick={() => dispatch(loopChosen(null))}>
            <IconRepeat size={18} />
          </ActionIcon>
        </Tooltip>
      )}
      {(listened.result || listened.chain) && (
        <div className={classes.compare}>
          <SegmentedControl
            size="xs"
            aria-label="Which to hear"
            value={side}
            onChange={(value) => choose(value as Side)}
            data={sidesOf(listened)}
          />
          <Switch
            size="xs"
            checked={levelMatched}
            onChange={(event) => dispatch(levelMatchChanged(event.currentTarget.checked))}
            label={
              <span className={classes.match}>
                level-matched <span className="figure">{levelMatched ? figure(gainDb) : '0.0'}</span> dB
              </span>
            }
          />
        </div>
      )}
      <MeterFigures channels={playable.track.channels} />
      <DeviceMenu />
    </>
  );
}

const SIDES: readonly { value: Side; label: string }[] = [
  { value: 'source', label: 'Source' },
  { value: 'so-far', label: 'So far' },
  { value: 'chain', label: 'Whole chain' },
  { value: 'removed', label: 'Removed' },
];

/** "So far" and "removed" ask for a step that is chosen. */
const sidesOf = ({ chain }: Listened) =>
  chain
    ? SIDES.map((one) => ({ ...one, disabled: !chain.upTo && (one.value === 'so-far' || one.value === 'removed') }))
    : [SIDES[0], { value: 'result', label: 'Result' }];

interface TimelineProps {
  playable: Playable;
  loop: TimeSpan | null;
  scrub(seconds: number): void;
}

/** P19: what moves with every frame is drawn by itself. */
function Now() {
  return clock(useListeningSeconds(), 1);
}

function Timeline({ playable, loop, scrub }: TimelineProps) {
  const { overview } = playable;
  const [recording, output] = overview && 'recordingId' in overview ? [overview, null] : [null, overview];
  const source = api.useRecordingOverviewQuery(recording?.recordingId ?? '', { skip: !recording });
  const result = api.useOutputOverviewQuery(output ?? { runId: '', itemId: '', sha256: '' }, { skip: !output });
  const columns = (recording ? source.currentData : output && result.currentData)?.columns ?? [];
  const percent = (at: number) => (100 * at) / playable.seconds;
  return (
    <div className={classes.timeline}>
      <Wave columns={columns} height={42} />
      <Seek total={playable.seconds} scrub={scrub} />
      {loop && (
        <div
          className={classes.loop}
          style={{ left: `${percent(loop.startSeconds)}%`, width: `${percent(loop.endSeconds - loop.startSeconds)}%` }}
        />
      )}
    </div>
  );
}

function Seek({ total, scrub }: { total: number; scrub(seconds: number): void }) {
  const seconds = useListeningSeconds();
  return (
    <>
      <input
        className={classes.seek}
        type="range"
        aria-label="Position"
        aria-valuetext={clock(seconds, 1)}
        min={0}
        max={total}
        step={0.01}
        value={Math.min(seconds, total)}
        onChange={(event) => scrub(Number(event.currentTarget.value))}
      />
      <div className={classes.cursor} style={{ left: `${(100 * seconds) / total}%` }} />
    </>
  );
}

import { ActionIcon, SegmentedControl, Switch } from '@mantine/core';
import { IconPlayerPauseFilled, IconPlayerPlayFilled } from '@tabler/icons-react';
import { figure } from '@tonos/core';
import { useEffect } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { api } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { Wave } from '../plots/Wave.tsx';
import { clock } from '../ui/time.ts';
import classes from './ListeningStrip.module.css';
import { matchGainDb } from './level-match.ts';
import { useListeningSeconds } from './listening-clock.ts';
import { type Listened, listeningSlice, type Playable, type Side } from './listening-slice.ts';
import { usePlayer } from './use-player.ts';

const { playingChanged, sideChosen, levelMatchChanged } = listeningSlice.actions;
const SEEK_SECONDS = 5;

/** At the foot of every page: what is being listened to. */
export function ListeningStrip() {
  const { listened } = useAppSelector((state) => state.listening);
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
  const { side, playing, levelMatched, seekAsked } = useAppSelector((state) => state.listening);
  const playable = side === 'result' && listened.result ? listened.result : listened.source;
  const gainDb = levelMatched ? matchGainDb(listened, side) : 0;
  const seconds = useListeningSeconds();
  const { seek } = usePlayer(listened, side, playing, gainDb, () => dispatch(playingChanged(false)));
  useEffect(() => {
    if (seekAsked) seek(seekAsked.seconds);
  }, [seekAsked, seek]);
  const choose = (chosen: Side) => dispatch(sideChosen(chosen));
  useHotkeys('space', () => dispatch(playingChanged(!playing)), {
    preventDefault: true,
    ignoreEventWhen: ({ target }) => (target as HTMLElement).closest('button, [role=switch]') !== null,
  });
  useHotkeys('comma', () => seek(seconds - SEEK_SECONDS));
  useHotkeys('period', () => seek(seconds + SEEK_SECONDS));
  useHotkeys('s', () => choose('source'));
  useHotkeys('r', () => choose('result'));
  return (
    <>
      <ActionIcon size="lg" aria-label={playing ? 'Pause' : 'Play'} onClick={() => dispatch(playingChanged(!playing))}>
        {playing ? <IconPlayerPauseFilled size={20} /> : <IconPlayerPlayFilled size={20} />}
      </ActionIcon>
      <span className={`figure ${classes.time}`}>
        {clock(seconds, 1)} <span className="quiet">/ {clock(playable.seconds, 1)}</span>
      </span>
      <span className={classes.name} title={listened.name}>
        {listened.name}
      </span>
      <Timeline playable={playable} seconds={seconds} seek={seek} />
      {listened.result && (
        <>
          <SegmentedControl
            size="xs"
            classNames={{ root: classes.sides, indicator: classes.chosen, label: classes.side }}
            aria-label="Which to hear"
            value={side}
            onChange={(value) => choose(value as Side)}
            data={[
              { value: 'source', label: 'Source' },
              { value: 'result', label: 'Result' },
            ]}
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
        </>
      )}
    </>
  );
}

function Timeline({ playable, seconds, seek }: { playable: Playable; seconds: number; seek(seconds: number): void }) {
  const { overview } = playable;
  const isSource = 'recordingId' in overview;
  const source = api.useRecordingOverviewQuery(isSource ? overview.recordingId : '', { skip: !isSource });
  const result = api.useOutputOverviewQuery(isSource ? { runId: '', itemId: '', sha256: '' } : overview, {
    skip: isSource,
  });
  const columns = (isSource ? source.data : result.data)?.columns ?? [];
  return (
    <div className={classes.timeline}>
      <Wave columns={columns} height={42} />
      <input
        className={classes.seek}
        type="range"
        aria-label="Position"
        aria-valuetext={clock(seconds, 1)}
        min={0}
        max={playable.seconds}
        step={0.01}
        value={Math.min(seconds, playable.seconds)}
        onChange={(event) => seek(Number(event.currentTarget.value))}
      />
      <div className={classes.cursor} style={{ left: `${(100 * seconds) / playable.seconds}%` }} />
    </div>
  );
}

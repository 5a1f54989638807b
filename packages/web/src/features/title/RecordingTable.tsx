import { Checkbox, Progress, Tooltip } from '@mantine/core';
import type { Recording } from '@tonos/contract';
import { Link } from 'react-router';
import { useAppSelector } from '../../app/store.ts';
import type { Listened } from '../../listening/listening-slice.ts';
import { PlayMark } from '../../listening/PlayMark.tsx';
import { factsText } from '../../ui/facts-text.ts';
import { LevelCell } from '../../ui/LevelCell.tsx';
import { clock, timeLeft } from '../../ui/time.ts';
import classes from './RecordingTable.module.css';

interface RecordingTableProps {
  recordings: readonly Recording[];
  unchosen: ReadonlySet<string>;
  onChoose(unchosen: ReadonlySet<string>): void;
}

/** A row a recording: what it is, how loud, and what is wrong with it. */
export function RecordingTable({ recordings, unchosen, onChoose }: RecordingTableProps) {
  const toggle = (id: string) => {
    const next = new Set(unchosen);
    if (!next.delete(id)) next.add(id);
    onChoose(next);
  };
  const all = unchosen.size === 0;
  return (
    <table className="ledger">
      <thead>
        <tr>
          <th className={classes.check}>
            <Checkbox
              size="xs"
              aria-label="Choose all"
              checked={all}
              indeterminate={!all && unchosen.size < recordings.length}
              onChange={() => onChoose(all ? new Set(recordings.map(({ id }) => id)) : new Set())}
            />
          </th>
          <th className="place">No.</th>
          <th aria-label="Listen" />
          <th>Recording</th>
          <th className="number">Length</th>
          <th className="number">Loudness LUFS</th>
          <th className="number">True peak dBTP</th>
          <th className="number">Noise floor dBFS</th>
          <th>File</th>
          <th>Warnings</th>
        </tr>
      </thead>
      <tbody>
        {recordings.map((recording) => (
          <tr key={recording.id}>
            <td className={classes.check}>
              <Checkbox
                size="xs"
                aria-label={`Choose ${recording.name}`}
                checked={!unchosen.has(recording.id)}
                onChange={() => toggle(recording.id)}
              />
            </td>
            <td className="place">{recording.position}</td>
            <td className={classes.play}>
              {recording.status === 'ready' && <PlayMark listened={listenedOf(recording)} />}
            </td>
            <td className={`name ${classes.name}`} title={recording.name}>
              <Link className="plain" to={`/recordings/${recording.id}`}>
                {recording.name}
              </Link>
            </td>
            <Figures recording={recording} />
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function listenedOf({ id, name, measurement }: Recording): Listened {
  const { integratedLufs, durationSeconds } = measurement!;
  const source = {
    url: `/api/recordings/${id}/audio`,
    overview: { recordingId: id },
    loudnessLufs: integratedLufs,
    seconds: durationSeconds,
  };
  return { name, source, result: null };
}

function Figures({ recording: { id, status, measurement, error } }: { recording: Recording }) {
  const progress = useAppSelector((state) => state.progress[id]);
  if (status === 'measuring') {
    return (
      <td colSpan={6}>
        <div className={classes.measuring}>
          <Progress
            className={classes.bar}
            value={100 * (progress?.share ?? 0)}
            aria-label="Measuring"
            transitionDuration={200}
          />
          <span className="quiet small">
            {progress?.secondsLeft ? `measuring, ${timeLeft(progress.secondsLeft)}` : 'measuring'}
          </span>
        </div>
      </td>
    );
  }
  if (!measurement) {
    return (
      <td colSpan={6} className="verdict-over small">
        {error?.message}
      </td>
    );
  }
  const { durationSeconds, integratedLufs, truePeakDbtp, noiseFloorDbfs, warnings } = measurement;
  return (
    <>
      <td className="number">{clock(durationSeconds)}</td>
      <LevelCell value={integratedLufs} />
      <LevelCell value={truePeakDbtp} />
      <LevelCell value={noiseFloorDbfs} />
      <td className="quiet small">{factsText(measurement)}</td>
      <td className={`advice small ${classes.warnings}`}>
        {warnings.map(({ code, message }, i) => (
          <Tooltip key={code} label={message} multiline w={280} events={{ hover: true, focus: true, touch: true }}>
            {/* biome-ignore lint/a11y/noNoninteractiveTabindex: the sentence behind the word is reached by keys too */}
            <span tabIndex={0}>
              {i > 0 && ', '}
              {code.replaceAll('-', ' ')}
            </span>
          </Tooltip>
        ))}
      </td>
    </>
  );
}

import { Checkbox, Progress, Tooltip, VisuallyHidden } from '@mantine/core';
import type { Recording, Standing } from '@tonos/contract';
import { COMPLAINTS, figure, type Limit } from '@tonos/core';
import { memo, type ReactNode, useMemo } from 'react';
import { Link } from 'react-router';
import { useAppSelector } from '../../app/store.ts';
import type { Listened } from '../../listening/listening-slice.ts';
import { PlayMark } from '../../listening/PlayMark.tsx';
import { sourceOf } from '../../listening/source-of.ts';
import { Ruler } from '../../plots/Ruler.tsx';
import { type RulerScale, rulerScale } from '../../plots/ruler-scale.ts';
import { complaintSentence, otherWarnings } from '../../ui/complaint-text.ts';
import { LevelCell } from '../../ui/LevelCell.tsx';
import { limitText, measureOf } from '../../ui/limit-text.ts';
import { RowsInView } from '../../ui/RowsInView.tsx';
import { outdatedText, STANDINGS } from '../../ui/standing-text.ts';
import { clock, timeLeft } from '../../ui/time.ts';
import { NameCell } from './NameCell.tsx';
import { onRowKey } from './on-row-key.ts';
import classes from './RecordingTable.module.css';
import type { Sorting, SortKey } from './sort-recordings.ts';
import type { Selection } from './use-selection.ts';

interface RecordingTableProps {
  recordings: readonly Recording[];
  /** What was delivered of each. */
  standings: ReadonlyMap<string, Standing>;
  selection: Selection;
  sorting: Sorting;
  onSort(sorting: Sorting): void;
  /** The level that the title's target aims for; its window is drawn in every row. */
  levelLimit: Limit | undefined;
}

const ROW_HEIGHT_PX = 53;

/** A row a recording: what it is, how loud, where in the target's window, and what is wrong with it. */
export function RecordingTable({ recordings, standings, selection, sorting, onSort, levelLimit }: RecordingTableProps) {
  const { chosen, toggle, set } = selection;
  const all = recordings.length > 0 && recordings.every(({ id }) => chosen.has(id));
  const scale = useMemo(() => levelLimit && scaleOf(recordings, levelLimit), [recordings, levelLimit]);
  const head = (key: SortKey, text: string, number = false, held = '') => (
    <SortHead sortKey={key} sorting={sorting} onSort={onSort} text={text} className={number ? 'number' : held} />
  );
  return (
    <div className="wide">
      <table className="ledger" aria-rowcount={recordings.length + 1}>
        <thead>
          <tr>
            <th className={classes.check}>
              <Checkbox
                size="xs"
                aria-label="Choose all"
                checked={all}
                indeterminate={!all && chosen.size > 0}
                onChange={() => set(all ? [] : recordings.map(({ id }) => id))}
              />
            </th>
            {head('position', 'No.', true)}
            <th>
              <VisuallyHidden>Listen</VisuallyHidden>
            </th>
            {head('name', 'Recording', false, 'held-start')}
            <th>Delivered</th>
            {head('length', 'Length', true)}
            {levelLimit && <th>{measureOf(levelLimit.measure).title} window</th>}
            {head('loudness', 'Loudness LUFS', true)}
            {head('truePeak', 'True peak dBTP', true)}
            {head('floor', 'Noise floor dBFS', true)}
            {head('warnings', 'Complaints')}
          </tr>
        </thead>
        <RowsInView rows={recordings} heightPx={ROW_HEIGHT_PX} columns={levelLimit ? 11 : 10}>
          {(recording, place) => (
            <RecordingRow
              place={place}
              recording={recording}
              standing={standings.get(recording.id)}
              chosen={chosen.has(recording.id)}
              toggle={toggle}
              levelLimit={levelLimit}
              scale={scale}
            />
          )}
        </RowsInView>
      </table>
    </div>
  );
}

interface RecordingRowProps {
  place: number;
  recording: Recording;
  standing: Standing | undefined;
  chosen: boolean;
  toggle: Selection['toggle'];
  levelLimit: Limit | undefined;
  scale: RulerScale | undefined;
}

/** Drawn again only where what it shows has changed: while a long table is scrolled, rows stay as they are. */
const RecordingRow = memo(({ place, recording, standing, chosen, toggle, levelLimit, scale }: RecordingRowProps) => (
  <tr
    aria-rowindex={place}
    data-chosen={chosen || undefined}
    tabIndex={0}
    onKeyDown={(event) => onRowKey(event, () => toggle(recording.id, event.shiftKey))}
  >
    <td className={classes.check}>
      <Checkbox
        size="xs"
        aria-label={`Choose ${recording.name}`}
        checked={chosen}
        onChange={(event) => toggle(recording.id, (event.nativeEvent as MouseEvent).shiftKey)}
      />
    </td>
    <td className="place">{recording.position}</td>
    <td className={classes.play}>{recording.status === 'ready' && <PlayMark listened={listenedOf(recording)} />}</td>
    <NameCell recording={recording} />
    <DeliveredCell standing={standing} />
    <Figures
      recording={recording}
      level={scale && levelLimit && <LevelRuler recording={recording} limit={levelLimit} scale={scale} />}
    />
  </tr>
));

/** What was delivered of it; leads to where. */
function DeliveredCell({ standing }: { standing: Standing | undefined }) {
  if (!standing) return <td />;
  const { word, className } = STANDINGS[standing.state];
  const why = outdatedText(standing);
  const text = <span className={className}>{word}</span>;
  return (
    <td className={`small ${classes.delivered}`}>
      <Tooltip label={why} disabled={!why} multiline w={280} events={{ hover: true, focus: true, touch: true }}>
        {standing.runId ? (
          <Link className="plain" to={`/runs/${standing.runId}`}>
            {text}
          </Link>
        ) : (
          text
        )}
      </Tooltip>
    </td>
  );
}

interface SortHeadProps {
  sortKey: SortKey;
  sorting: Sorting;
  onSort(sorting: Sorting): void;
  text: string;
  className: string;
}

/** A heading that sorts by its column, and the other way when pressed again. */
function SortHead({ sortKey, sorting: { key, descending }, onSort, text, className }: SortHeadProps) {
  const own = key === sortKey;
  return (
    <th className={className || undefined} aria-sort={own ? (descending ? 'descending' : 'ascending') : undefined}>
      <button
        type="button"
        className={classes.sort}
        onClick={() => onSort({ key: sortKey, descending: own && !descending })}
      >
        {text}
        {own && sortKey !== 'position' && (descending ? ' \u2193' : ' \u2191')}
      </button>
    </th>
  );
}

const RULER_WIDTH = 96;

const scaleOf = (recordings: readonly Recording[], { measure, min, max }: Limit): RulerScale => {
  const values = recordings
    .map(({ measurement }) => measurement?.[measure])
    .filter((value): value is number => typeof value === 'number');
  return rulerScale(min, max, values, measureOf(measure).unit);
};

function LevelRuler({
  recording: { measurement },
  limit: { measure, min, max },
  scale,
}: {
  recording: Recording;
  limit: Limit;
  scale: RulerScale;
}) {
  const value = measurement?.[measure] ?? null;
  const label = `${measureOf(measure).title} ${value === null ? 'none' : figure(value)} in ${limitText({ measure, min, max })}`;
  return (
    <Ruler
      scale={scale}
      min={min}
      max={max}
      before={value}
      after={null}
      result={undefined}
      width={RULER_WIDTH}
      label={label}
    />
  );
}

const listenedOf = ({ id, name, givenName, measurement, boxes }: Recording): Listened => ({
  name: givenName || name,
  source: sourceOf(id, measurement!, boxes),
  result: null,
});

function Figures({ recording: { id, status, measurement, error }, level }: { recording: Recording; level: ReactNode }) {
  const span = level ? 6 : 5;
  const progress = useAppSelector((state) => state.progress[id]);
  if (status === 'measuring') {
    return (
      <td colSpan={span}>
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
      <td colSpan={span} className="verdict-over small">
        {error?.message}
      </td>
    );
  }
  const { durationSeconds, integratedLufs, truePeakDbtp, noiseFloorDbfs } = measurement;
  const words = [
    ...measurement.complaints.map((one) => ({
      word: COMPLAINTS[one.code].title.toLowerCase(),
      message: complaintSentence(one),
    })),
    ...otherWarnings(measurement).map(({ code, message }) => ({ word: code.replaceAll('-', ' '), message })),
  ];
  return (
    <>
      <td className="number">{clock(durationSeconds)}</td>
      {level && <td>{level}</td>}
      <LevelCell value={integratedLufs} />
      <LevelCell value={truePeakDbtp} />
      <LevelCell value={noiseFloorDbfs} />
      <td className={`advice small ${classes.warnings}`}>
        {words.map(({ word, message }, i) => (
          <Tooltip key={word} label={message} multiline w={280} events={{ hover: true, focus: true, touch: true }}>
            {/* biome-ignore lint/a11y/noNoninteractiveTabindex: the sentence behind the word is reached by keys too */}
            <span tabIndex={0}>
              {i > 0 && ', '}
              {word}
            </span>
          </Tooltip>
        ))}
      </td>
    </>
  );
}

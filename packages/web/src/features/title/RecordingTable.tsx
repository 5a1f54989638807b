import { Progress, Tooltip } from '@mantine/core';
import type { Table } from '@tanstack/react-table';
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
import { outdatedText, STANDINGS } from '../../ui/standing-text.ts';
import { RowCheck } from '../../ui/table/RowControls.tsx';
import { RowsInView } from '../../ui/table/RowsInView.tsx';
import { TableHead } from '../../ui/table/TableHead.tsx';
import type { ChosenRows } from '../../ui/table/use-chosen-rows.ts';
import { clock, timeLeft } from '../../ui/time.ts';
import { NameCell } from './NameCell.tsx';
import { onRowKey } from './on-row-key.ts';
import classes from './RecordingTable.module.css';

interface RecordingTableProps {
  /** Of `recordingColumns`. */
  table: Table<Recording>;
  /** What was delivered of each. */
  standings: ReadonlyMap<string, Standing>;
  chosenRows: ChosenRows;
  /** The level that the title's target aims for; its window is drawn in every row. */
  levelLimit: Limit | undefined;
}

const ROW_HEIGHT_PX = 52;

/** A row a recording: what it is, how loud, where in the target's window, and what is wrong with it. */
export function RecordingTable({ table, standings, chosenRows, levelLimit }: RecordingTableProps) {
  const { chosen, toggle } = chosenRows;
  const { rows } = table.getRowModel();
  const scale = useMemo(
    () =>
      levelLimit &&
      scaleOf(
        rows.map(({ original }) => original),
        levelLimit,
      ),
    [rows, levelLimit],
  );
  return (
    <div className="wide">
      <table className="ledger" aria-rowcount={rows.length + 1}>
        <TableHead table={table} />
        <RowsInView rows={rows} heightPx={ROW_HEIGHT_PX} columns={table.getAllColumns().length}>
          {({ id, original }, place) => (
            <RecordingRow
              place={place}
              recording={original}
              standing={standings.get(id)}
              chosen={chosen.has(id)}
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
  toggle: ChosenRows['toggle'];
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
      <RowCheck
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
  const shown = standing.runId ? (
    <Link className="plain" to={`/runs/${standing.runId}`}>
      {text}
    </Link>
  ) : (
    text
  );
  return (
    <td className={`small ${classes.delivered}`}>
      {why ? (
        <Tooltip label={why} multiline w={280} events={{ hover: true, focus: true, touch: true }}>
          {shown}
        </Tooltip>
      ) : (
        shown
      )}
    </td>
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

import type { Recording } from '@tonos/contract';
import type { LedgerFigures, OrderFile, OrderPart, ResolvedOrder } from '@tonos/core';
import { memo } from 'react';
import { TimeField } from '../../ui/TimeField.tsx';
import { clock } from '../../ui/time.ts';
import { LevelCells, LevelHeads } from './LevelCells.tsx';
import { LevelField } from './LevelField.tsx';
import { type Fill, recordingIdOf, secondsOf } from './lay-out-order.ts';
import { beginsWords, lastsWords } from './order-words.ts';
import classes from './PartTable.module.css';
import type { OrderLedger } from './use-order-ledger.ts';

interface PartTableProps {
  order: OrderFile;
  resolved: ResolvedOrder | undefined;
  recordings: ReadonlyMap<string, Recording>;
  fill: Fill;
  /** What each part measures, as it comes to its group. */
  ledger: OrderLedger;
  chosen: string | null;
  onChoose(id: string): void;
  /** @param touched what of it, so that a row of changes is undone as one */
  onChange(id: string, change: Partial<OrderPart>, touched: string): void;
}

/** The running order as a table: what sounds, how it begins, how long it lasts. */
export function PartTable({ order, resolved, recordings, fill, ledger, chosen, onChoose, onChange }: PartTableProps) {
  const { fresh } = ledger;
  const figures = ledger.ledger?.parts;
  const nameOf = (id: string) => order.parts.find((part) => part.id === id)?.name || id;
  const groupOf = (id: string) => order.groups.find((group) => group.id === id)?.name || id;
  const sourceName = (part: OrderPart) => {
    const recording = recordings.get(recordingIdOf(part, fill) ?? '');
    return recording && (recording.givenName || recording.name);
  };
  return (
    <div className="wide">
      <table className={`ledger ${classes.table}`}>
        <thead>
          <tr>
            <th className="place">No.</th>
            <th>Part</th>
            <th>Source</th>
            <th>Begins</th>
            <th>Lasts</th>
            <th className="number">From</th>
            <th className="number">Length</th>
            <th className="number">Fade in</th>
            <th className="number">Fade out</th>
            <th className="number">Level</th>
            <LevelHeads />
            <th>Group</th>
            <th>Chapter</th>
          </tr>
        </thead>
        <tbody>
          {order.parts.map((part, i) => {
            const placed = resolved?.parts.find((one) => one.part.id === part.id);
            return (
              <PartRow
                key={part.id}
                number={i + 1}
                part={part}
                source={sourceName(part)}
                begins={beginsWords(part, nameOf)}
                lasts={lastsWords(part, nameOf)}
                group={groupOf(part.group)}
                start={placed?.start}
                frames={placed && placed.end - placed.start}
                figures={figures?.find(({ id }) => id === part.id)?.figures}
                fresh={fresh}
                chosen={part.id === chosen}
                onChoose={onChoose}
                onChange={onChange}
              />
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

interface PartRowProps extends Pick<PartTableProps, 'onChoose' | 'onChange'> {
  number: number;
  part: OrderPart;
  /** What its recording is called; none where there is none. */
  source: string | undefined;
  begins: string;
  lasts: string;
  group: string;
  /** In frames; unknown while the order can't be put together. */
  start: number | undefined;
  frames: number | undefined;
  figures: LedgerFigures | undefined;
  fresh: boolean;
  chosen: boolean;
}

const at = (frames: number | undefined) => (frames === undefined ? '\u2013' : clock(secondsOf(frames), 2));

/** A row by itself: while one part is dragged, the others are not drawn again. */
const PartRow = memo(function PartRow(props: PartRowProps) {
  const { number, part, source, begins, lasts, group, start, frames, figures, fresh, chosen, onChoose, onChange } =
    props;
  const name = part.name || part.id;
  const choose = () => onChoose(part.id);
  return (
    <tr data-chosen={chosen || undefined} onClick={choose} onFocus={choose}>
      <td className="place">{number}</td>
      <td className="name">
        <button type="button" id={`part-row-${part.id}`} className={classes.name} aria-pressed={chosen}>
          {name}
        </button>
      </td>
      <td className={classes.words} title={source}>
        <Source part={part} name={source} />
      </td>
      <td className={classes.begins} title={begins}>
        {begins}
      </td>
      <td className={classes.words} title={lasts}>
        {lasts}
      </td>
      <td className="number">{at(start)}</td>
      <td className="number">{at(frames)}</td>
      <td className="number">
        <TimeField
          decimals={2}
          width={44}
          label={`Fade in of ${name}`}
          seconds={part.fadeInSeconds}
          set={(fadeInSeconds) => onChange(part.id, { fadeInSeconds }, 'fade-in')}
        />
      </td>
      <td className="number">
        <TimeField
          decimals={2}
          width={44}
          label={`Fade out of ${name}`}
          seconds={part.fadeOutSeconds}
          set={(fadeOutSeconds) => onChange(part.id, { fadeOutSeconds }, 'fade-out')}
        />
      </td>
      <td className="number">
        <LevelField
          label={`Level of ${name}`}
          lufs={part.level?.integratedLufs ?? null}
          set={(lufs) => onChange(part.id, { level: lufs === null ? null : { integratedLufs: lufs } }, 'level')}
        />
      </td>
      <LevelCells figures={figures} fresh={fresh} />
      <td className={classes.words}>{group}</td>
      <td className={classes.words}>{part.chapter}</td>
    </tr>
  );
});

function Source({ part: { source }, name }: { part: OrderPart; name: string | undefined }) {
  if ('place' in source) return <span className="quiet">{`place: ${source.place}${name ? ` (${name})` : ''}`}</span>;
  return name ?? <span className="verdict-over">not in this title</span>;
}

import type { Recording } from '@tonos/contract';
import type { OrderFile, OrderPart, ResolvedOrder } from '@tonos/core';
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
  const sourceOf = (part: OrderPart) => {
    const name = sourceName(part);
    if ('place' in part.source)
      return <span className="quiet">{`place: ${part.source.place}${name ? ` (${name})` : ''}`}</span>;
    return name ?? <span className="verdict-over">not in this title</span>;
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
            const at = (frames: number | undefined) => (frames === undefined ? '\u2013' : clock(secondsOf(frames), 2));
            const name = part.name || part.id;
            return (
              <tr
                key={part.id}
                data-chosen={part.id === chosen || undefined}
                onClick={() => onChoose(part.id)}
                onFocus={() => onChoose(part.id)}
              >
                <td className="place">{i + 1}</td>
                <td className="name">
                  <button
                    type="button"
                    id={`part-row-${part.id}`}
                    className={classes.name}
                    aria-pressed={part.id === chosen}
                  >
                    {name}
                  </button>
                </td>
                <td className={classes.words} title={sourceName(part)}>
                  {sourceOf(part)}
                </td>
                <td className={classes.begins} title={beginsWords(part, nameOf)}>
                  {beginsWords(part, nameOf)}
                </td>
                <td className={classes.words} title={lastsWords(part, nameOf)}>
                  {lastsWords(part, nameOf)}
                </td>
                <td className="number">{at(placed?.start)}</td>
                <td className="number">{at(placed && placed.end - placed.start)}</td>
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
                    set={(lufs) =>
                      onChange(part.id, { level: lufs === null ? null : { integratedLufs: lufs } }, 'level')
                    }
                  />
                </td>
                <LevelCells figures={figures?.find(({ id }) => id === part.id)?.figures} fresh={fresh} />
                <td className={classes.words}>{groupOf(part.group)}</td>
                <td className={classes.words}>{part.chapter}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

import { ActionIcon, Button, Checkbox, Select, Switch } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import type { Recording } from '@tonos/contract';
import { type PickUp, secondsAfter, spanOf, type TimeCut } from '@tonos/core';
import { useMemo } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { TimeField } from '../../ui/TimeField.tsx';
import { RowsInView } from '../../ui/table/RowsInView.tsx';
import { clock } from '../../ui/time.ts';
import { cutKindName, cutLengthText } from './cut-words.ts';
import classes from './Marks.module.css';
import { pickUpSources } from './pick-up-choice.ts';
import type { Cutting } from './use-cutting.ts';

/** So much is heard before a cut: whether it is noticed shows in what leads to it. */
const LEAD_SECONDS = 1.5;
const ROW_PX = 37;

interface CutTableProps {
  cutting: Cutting;
  others: readonly Recording[];
  totalSeconds: number;
  listen(seconds: number): void;
  show(cut: TimeCut): void;
}

/** Every cut of the recording, in order: to be heard, moved, switched off and taken away. */
export function CutTable({ cutting, others, totalSeconds, listen, show }: CutTableProps) {
  const { cuts, uncut, setUncut, chosen } = cutting;
  const go = (by: number) => {
    if (!cuts.length) return;
    const at = chosen ? cuts.indexOf(chosen) : -1;
    const next = cuts[at < 0 && by < 0 ? cuts.length - 1 : (at + by + cuts.length) % cuts.length];
    show(next);
  };
  const rows = useMemo(() => cuts.map((cut, i) => ({ id: cut.id ?? String(i), cut })), [cuts]);
  useHotkeys('j', () => go(1));
  useHotkeys('shift+j', () => go(-1));
  if (!cuts.length) return null;
  const heard = (cut: TimeCut) => listen(Math.max(0, spanOf(cut).startSeconds - LEAD_SECONDS));
  return (
    <section className={classes.table} aria-label="Cuts">
      <div className={classes.cutHead}>
        <h2>Cuts</h2>
        <span className="quiet">
          {clock(totalSeconds, 1)} becomes {clock(secondsAfter(cuts, totalSeconds), 1)}
        </span>
        <Switch
          size="xs"
          label="As it was recorded"
          checked={uncut}
          onChange={(event) => setUncut(event.currentTarget.checked)}
        />
      </div>
      <table className="ledger">
        <thead>
          <tr>
            <th>What</th>
            <th className="number">From s</th>
            <th className="number">To s</th>
            <th>Length</th>
            <th>On</th>
            <th colSpan={2}>
              <span className="quiet">
                <kbd>j</kbd> goes to the next
              </span>
            </th>
          </tr>
        </thead>
        <RowsInView rows={rows} heightPx={ROW_PX} columns={7}>
          {({ cut }) => (
            <CutRows cut={cut} cutting={cutting} others={others} heard={() => heard(cut)} show={() => show(cut)} />
          )}
        </RowsInView>
      </table>
    </section>
  );
}

interface CutRowsProps {
  cut: TimeCut;
  cutting: Cutting;
  others: readonly Recording[];
  heard(): void;
  show(): void;
}

function CutRows({ cut, cutting, others, heard, show }: CutRowsProps) {
  const { change, remove, chosen } = cutting;
  const name = `${cutKindName(cut)} at ${clock(spanOf(cut).startSeconds, 2)}`;
  const time = (label: string, seconds: number, set: (to: number) => void) => (
    <TimeField label={`${label} of ${name}`} seconds={seconds} set={set} />
  );
  return (
    <>
      <tr data-chosen={cut === chosen || undefined}>
        <td>
          <Button size="compact-xs" variant="subtle" className={classes.cutKind} onClick={show}>
            {cutKindName(cut)}
          </Button>
        </td>
        <td className="number">
          {cut.kind === 'pause'
            ? time('Place', cut.atSeconds, (atSeconds) => change(cut, { atSeconds }))
            : time('Start', cut.startSeconds, (startSeconds) => change(cut, { startSeconds }))}
        </td>
        <td className="number">
          {cut.kind !== 'pause' && time('End', cut.endSeconds, (endSeconds) => change(cut, { endSeconds }))}
        </td>
        <td className="quiet">
          {cut.kind === 'pause' ? (
            <span className={classes.pickUp}>
              {time('Length', cut.lengthSeconds, (lengthSeconds) => change(cut, { lengthSeconds }))} s
            </span>
          ) : (
            cutLengthText(cut)
          )}
        </td>
        <td>
          <Checkbox
            size="xs"
            aria-label={`${name} is on`}
            checked={cut.on}
            onChange={(event) => change(cut, { on: event.currentTarget.checked })}
          />
        </td>
        <td className={classes.act}>
          <Button size="compact-xs" variant="subtle" onClick={heard}>
            Listen
          </Button>
        </td>
        <td className={classes.act}>
          <ActionIcon size="sm" aria-label={`Remove ${name}`} onClick={() => remove(cut)}>
            <IconTrash size={15} />
          </ActionIcon>
        </td>
      </tr>
      {cut.kind === 'pick-up' && <PickUpRow cut={cut} name={name} cutting={cutting} others={others} />}
    </>
  );
}

interface PickUpRowProps {
  cut: PickUp;
  name: string;
  cutting: Cutting;
  others: readonly Recording[];
}

/** Which stretch of which recording, and what of it is brought to the chapter's. */
function PickUpRow({ cut, name, cutting: { change }, others }: PickUpRowProps) {
  const sources = pickUpSources(others);
  const isGone = !sources.some(({ id }) => id === cut.recordingId);
  const match = (key: 'matchLevel' | 'matchTone' | 'matchRoom', label: string) => (
    <Checkbox
      size="xs"
      label={label}
      aria-label={`Match the ${label} of ${name}`}
      checked={cut[key]}
      onChange={(event) => change(cut, { [key]: event.currentTarget.checked })}
    />
  );
  return (
    <tr>
      <td colSpan={7}>
        <div className={classes.pickUp}>
          <span className="quiet">out of</span>
          <Select
            size="xs"
            w={210}
            aria-label={`Recording of ${name}`}
            data={sources.map((one) => ({ value: one.id, label: one.givenName || one.name }))}
            value={isGone ? null : cut.recordingId}
            placeholder="The recording is gone"
            error={isGone}
            allowDeselect={false}
            onChange={(recordingId) => recordingId && change(cut, { recordingId })}
          />
          <TimeField
            label={`From, in the recording of ${name}`}
            seconds={cut.fromSeconds}
            set={(fromSeconds) => change(cut, { fromSeconds })}
          />
          {'\u2013'}
          <TimeField
            label={`To, in the recording of ${name}`}
            seconds={cut.toSeconds}
            set={(toSeconds) => change(cut, { toSeconds })}
          />
          <span className="quiet">s; matched:</span>
          {match('matchLevel', 'level')}
          {match('matchTone', 'tone')}
          {match('matchRoom', 'room')}
        </div>
      </td>
    </tr>
  );
}

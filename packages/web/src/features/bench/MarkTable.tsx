import { ActionIcon, Button, Checkbox, NumberInput, TextInput } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import type { Mark } from '@tonos/contract';
import { hertzFigure, type SpectralBox, type TimeSpan } from '@tonos/core';
import { useState } from 'react';
import { TimeField } from '../../ui/TimeField.tsx';
import { clock } from '../../ui/time.ts';
import classes from './Marks.module.css';
import { withBoxChanged, withMarkChanged, withoutBox, withoutMark, withoutRoomTone } from './markings.ts';
import type { Marking } from './use-markings.ts';

interface MarkTableProps {
  marking: Marking;
  listen(seconds: number): void;
  /** Lays room tone over every range of a name. */
  coverAll(name: string): void;
}

/** Everything that is marked in the recording, in order, to be named, set to the millisecond, heard and taken away. */
export function MarkTable({ marking: { present, change, canUndo, undo }, listen, coverAll }: MarkTableProps) {
  const { marks, roomToneChoice, boxes } = present;
  const tones = [
    ...roomToneChoice.use.map((span) => ({ span, said: 'room tone, by hand' })),
    ...roomToneChoice.never.map((span) => ({ span, said: 'never room tone' })),
  ];
  if (!marks.length && !tones.length && !boxes.length) return null;
  return (
    <section className={classes.table} aria-label="Marks">
      <h2>Marks</h2>
      <table className="ledger">
        <thead>
          <tr>
            <th>Name</th>
            <th className="number">From s</th>
            <th className="number">To s</th>
            <th>What</th>
            <th colSpan={2} className={classes.undo}>
              <Button size="compact-xs" variant="subtle" disabled={!canUndo} onClick={undo}>
                Undo
              </Button>
            </th>
          </tr>
        </thead>
        <tbody>
          {marks.map((mark) => (
            <MarkRow
              key={`${mark.id} ${mark.name} ${mark.startSeconds} ${mark.endSeconds}`}
              mark={mark}
              listen={listen}
              alike={marks.filter((one) => one.name === mark.name && one.endSeconds > one.startSeconds).length}
              coverAll={() => coverAll(mark.name)}
              change={(to) => change(withMarkChanged(present, mark.id, to))}
              remove={() => change(withoutMark(present, mark.id))}
            />
          ))}
          {tones.map(({ span, said }) => (
            <SpanRow
              key={`${said} ${span.startSeconds}`}
              span={span}
              listen={listen}
              what={said}
              remove={() => change(withoutRoomTone(present, span))}
            />
          ))}
          {boxes.map((box) => (
            <SpanRow
              key={`box ${box.startSeconds} ${box.lowHz}`}
              span={box}
              listen={listen}
              what={<BoxWords box={box} change={(to) => change(withBoxChanged(present, box, to))} />}
              remove={() => change(withoutBox(present, box))}
            />
          ))}
        </tbody>
      </table>
    </section>
  );
}

interface MarkRowProps {
  mark: Mark;
  /** Ranges of its name. */
  alike: number;
  coverAll(): void;
  listen(seconds: number): void;
  change(to: Partial<Mark>): void;
  remove(): void;
}

function MarkRow({ mark, alike, coverAll, listen, change, remove }: MarkRowProps) {
  const [name, setName] = useState(mark.name);
  const place = mark.endSeconds === mark.startSeconds;
  const time = (label: string, value: number, set: (seconds: number) => void) => (
    <TimeField label={`${label} of ${mark.name}`} seconds={value} set={set} />
  );
  return (
    <tr>
      <td className={classes.nameCell}>
        <TextInput
          aria-label="Name of the mark"
          variant="unstyled"
          size="xs"
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
          onBlur={() => name.trim() !== mark.name && change({ name: name.trim() })}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
        {mark.note && <NoteText mark={mark} note={mark.note} change={change} />}
      </td>
      <td className="number">
        {time('Start', mark.startSeconds, (startSeconds) =>
          change(place ? { startSeconds, endSeconds: startSeconds } : { startSeconds }),
        )}
      </td>
      <td className="number">{!place && time('End', mark.endSeconds, (endSeconds) => change({ endSeconds }))}</td>
      <td className="quiet">
        {place ? (
          <Checkbox
            size="xs"
            label="chapter"
            aria-label={`${mark.name} begins a chapter`}
            checked={mark.chapter ?? false}
            onChange={(event) => change({ chapter: event.currentTarget.checked })}
          />
        ) : (
          <Button size="compact-xs" variant="subtle" onClick={coverAll}>
            {alike > 1 ? `Room tone over all ${alike}` : 'Room tone over it'}
          </Button>
        )}
      </td>
      <td className={classes.act}>
        <Hear seconds={mark.startSeconds} listen={listen} />
      </td>
      <td className={classes.act}>
        <Remove name={mark.name} remove={remove} />
      </td>
    </tr>
  );
}

interface NoteTextProps {
  mark: Mark;
  note: NonNullable<Mark['note']>;
  change(to: Partial<Mark>): void;
}

function NoteText({ mark, note, change }: NoteTextProps) {
  return (
    <Checkbox
      size="xs"
      mb={6}
      label={note.text}
      aria-label={`Done: ${note.text}`}
      styles={{ label: { whiteSpace: 'normal' } }}
      checked={note.state === 'done'}
      onChange={(event) => {
        const state = event.currentTarget.checked ? 'done' : 'open';
        change({ ...mark, note: { ...note, state } });
      }}
    />
  );
}

interface SpanRowProps {
  span: TimeSpan;
  what: React.ReactNode;
  listen(seconds: number): void;
  remove(): void;
}

function SpanRow({ span, what, listen, remove }: SpanRowProps) {
  return (
    <tr>
      <td className="quiet">{'\u2013'}</td>
      <td className="number">{span.startSeconds.toFixed(3)}</td>
      <td className="number">{span.endSeconds.toFixed(3)}</td>
      <td className="quiet">{what}</td>
      <td className={classes.act}>
        <Hear seconds={span.startSeconds} listen={listen} />
      </td>
      <td className={classes.act}>
        <Remove name={`the stretch at ${clock(span.startSeconds, 1)}`} remove={remove} />
      </td>
    </tr>
  );
}

function BoxWords({ box, change }: { box: SpectralBox; change(to: Partial<SpectralBox>): void }) {
  const hertz = (hz: number) => hertzFigure(Number(hz.toPrecision(3)));
  return (
    <>
      box {hertz(box.lowHz)}
      {'\u2013'}
      {hertz(box.highHz)}, down by{' '}
      <NumberInput
        aria-label={`Decibels of the box at ${clock(box.startSeconds, 1)}`}
        style={{ display: 'inline-block', width: 84 }}
        size="xs"
        min={0}
        max={80}
        suffix={'\u2009dB'}
        defaultValue={-box.gainDb}
        onBlur={(event) => {
          const db = Number.parseFloat(event.currentTarget.value);
          if (db >= 0 && db <= 80 && db !== -box.gainDb) change({ gainDb: -db });
        }}
      />
    </>
  );
}

const Hear = ({ seconds, listen }: { seconds: number; listen(seconds: number): void }) => (
  <Button size="compact-xs" variant="subtle" onClick={() => listen(seconds)}>
    Listen
  </Button>
);

const Remove = ({ name, remove }: { name: string; remove(): void }) => (
  <ActionIcon size="sm" aria-label={`Remove ${name}`} onClick={remove}>
    <IconTrash size={15} />
  </ActionIcon>
);

import { TextInput } from '@mantine/core';
import { IconPencil } from '@tabler/icons-react';
import type { Recording } from '@tonos/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { factsText } from '../../ui/facts-text.ts';
import { sayError } from '../../ui/notify.ts';
import { RowButton } from '../../ui/table/RowControls.tsx';
import classes from './RecordingTable.module.css';

/** What a recording is called, changed in place; under it its file, and who speaks where into what. */
export function NameCell({ recording }: { recording: Recording }) {
  const { id, name, givenName, speaker, microphone, room, measurement, adjustments } = recording;
  const [isRenaming, setRenaming] = useState(false);
  const adjusted = Object.values(adjustments).some((steps) => steps.length > 0);
  const facts = [
    givenName && name,
    measurement && factsText(measurement),
    speaker,
    microphone,
    room,
    adjusted && 'adjusted',
  ].filter(Boolean);
  return (
    <td className={`name held-start ${classes.name}`} title={name}>
      {isRenaming ? (
        <NameField recording={recording} onDone={() => setRenaming(false)} />
      ) : (
        <span className={classes.called}>
          <Link className="plain" to={`/recordings/${id}`}>
            {givenName || name}
          </Link>
          <RowButton
            className={classes.rename}
            aria-label={`Rename ${givenName || name}`}
            data-rename
            onClick={() => setRenaming(true)}
          >
            <IconPencil size={13} />
          </RowButton>
        </span>
      )}
      <span className={classes.labels}>{facts.join(' \u00b7 ')}</span>
    </td>
  );
}

/** Kept where it is left, given up with Escape. */
function NameField({ recording: { id, name, givenName }, onDone }: { recording: Recording; onDone(): void }) {
  const [change] = api.useChangeRecordingMutation();
  const [typed, setTyped] = useState(givenName || name);
  const keep = async () => {
    onDone();
    const wanted = typed.trim();
    // the file's own name is not given by hand
    const next = wanted === name ? '' : wanted;
    if (next === givenName) return;
    const { error } = await change({ id, givenName: next });
    if (error) sayError(`${name} was not renamed`, error);
  };
  return (
    <TextInput
      size="xs"
      aria-label={`Name of ${name}`}
      maxLength={200}
      autoFocus
      value={typed}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={() => void keep()}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') onDone();
        event.stopPropagation();
      }}
    />
  );
}

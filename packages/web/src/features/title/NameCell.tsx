import { ActionIcon, TextInput } from '@mantine/core';
import { IconPencil } from '@tabler/icons-react';
import type { Recording } from '@tonos/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { factsText } from '../../ui/facts-text.ts';
import { sayError } from '../../ui/notify.ts';
import classes from './RecordingTable.module.css';

/** What a recording is called, changed in place; under it its file, and who speaks where into what. */
export function NameCell({ recording }: { recording: Recording }) {
  const { id, name, givenName, speaker, microphone, room, measurement, adjustments } = recording;
  const [change] = api.useChangeRecordingMutation();
  const [typed, setTyped] = useState<string | null>(null);
  const keep = async () => {
    const wanted = typed?.trim() ?? '';
    setTyped(null);
    // the file's own name is not given by hand
    const next = wanted === name ? '' : wanted;
    if (typed === null || next === givenName) return;
    const { error } = await change({ id, givenName: next });
    if (error) sayError(`${name} was not renamed`, error);
  };
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
      {typed === null ? (
        <span className={classes.called}>
          <Link className="plain" to={`/recordings/${id}`}>
            {givenName || name}
          </Link>
          <ActionIcon
            size="xs"
            className={classes.rename}
            aria-label={`Rename ${givenName || name}`}
            data-rename
            onClick={() => setTyped(givenName || name)}
          >
            <IconPencil size={13} />
          </ActionIcon>
        </span>
      ) : (
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
            if (event.key === 'Escape') setTyped(null);
            event.stopPropagation();
          }}
        />
      )}
      <span className={classes.labels}>{facts.join(' \u00b7 ')}</span>
    </td>
  );
}

import { Button, Select, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import type { Recording, RecordingKind } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { useSendOut } from '../../outside/use-send-out.tsx';
import { lazily } from '../../ui/lazily.tsx';
import { sayError } from '../../ui/notify.ts';
import { sayUndo } from '../../ui/say-undo.tsx';
import classes from './ChosenBar.module.css';
import { KINDS } from './recording-kinds.ts';
import { sharedLabel } from './sort-recordings.ts';

const AdjustDrawer = lazily(async () => (await import('../../adjusting/AdjustDrawer.tsx')).AdjustDrawer);

const LABELS = ['speaker', 'microphone', 'room'] as const;

interface ChosenBarProps {
  recordings: readonly Recording[];
  /** The title's own. */
  chainId: string | null;
  onClear(): void;
}

/** What can be done to all that are chosen: label them, adjust the chain for them, move them to the trash. */
export function ChosenBar({ recordings, chainId, onClear }: ChosenBarProps) {
  const [adjusting, adjust] = useDisclosure(false);
  const [change] = api.useChangeRecordingsMutation();
  const [link, { isLoading: isLinking }] = api.useMakeSetMutation();
  const { sendOut, isSending } = useSendOut();
  const ids = recordings.map(({ id }) => id);
  const apply = async (part: Omit<Parameters<typeof change>[0], 'ids'>) => {
    const { error } = await change({ ids, ...part });
    if (error) sayError('Nothing was changed', error);
    return !error;
  };
  const linkThem = async () => {
    const { error } = await link({ titleId: recordings[0].titleId, recordingIds: ids });
    if (error) sayError('They were not linked', error);
    else onClear();
  };
  const trash = async () => {
    if (!(await apply({ trashed: true }))) return;
    onClear();
    const said = `${ids.length} ${ids.length === 1 ? 'recording lies' : 'recordings lie'} in the trash.`;
    sayUndo(said, () => void apply({ trashed: false }));
  };
  return (
    <div className={classes.bar} role="group" aria-label="For all that are chosen">
      <span>
        <span className="figure">{recordings.length}</span> chosen
      </span>
      {LABELS.map((label) => (
        <LabelField
          key={`${label} ${ids.join()}`}
          label={label}
          shared={sharedLabel(recordings, label)}
          onSet={(value) => void apply({ [label]: value })}
        />
      ))}
      <Select
        size="xs"
        w={116}
        aria-label="Kind"
        allowDeselect={false}
        placeholder="kind varies"
        data={KINDS}
        value={recordings.every(({ kind }) => kind === recordings[0]?.kind) ? (recordings[0]?.kind ?? null) : null}
        onChange={async (kind) => {
          if (kind && (await apply({ kind: kind as RecordingKind })) && kind !== 'voice') onClear();
        }}
      />
      <Button size="xs" variant="default" onClick={adjust.open}>
        Adjust the chain
      </Button>
      <AdjustDrawer recordings={recordings} chainId={chainId} opened={adjusting} onClose={adjust.close} />
      {recordings.length > 1 && (
        <Button
          size="xs"
          variant="default"
          loading={isLinking}
          title="Recordings of one session by several microphones: where they lie is found, and they stay in step"
          onClick={() => void linkThem()}
        >
          Link as one session
        </Button>
      )}
      <Button
        size="xs"
        variant="default"
        loading={isSending}
        title="As files for another program; what comes back becomes a take of each"
        onClick={() => void sendOut({ recordingIds: ids })}
      >
        Send out
      </Button>
      <Button size="xs" variant="default" onClick={() => void trash()}>
        Move to trash
      </Button>
      <Button size="xs" variant="subtle" onClick={onClear}>
        Choose none
      </Button>
    </div>
  );
}

interface LabelFieldProps {
  label: string;
  /** undefined: it varies. */
  shared: string | undefined;
  onSet(value: string): void;
}

/** Changes a label only where something was typed. */
function LabelField({ label, shared, onSet }: LabelFieldProps) {
  const [value, setValue] = useState(shared ?? '');
  const [touched, setTouched] = useState(false);
  const settle = () => {
    if (touched && value !== shared) onSet(value);
    setTouched(false);
  };
  return (
    <TextInput
      className={classes.label}
      size="xs"
      aria-label={label}
      placeholder={shared === undefined ? `${label} varies` : label}
      value={value}
      maxLength={100}
      onChange={(event) => {
        setValue(event.currentTarget.value);
        setTouched(true);
      }}
      onBlur={settle}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}

import { Button } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import type { Recording, RecordingKind } from '@tonos/contract';
import { memo } from 'react';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import classes from './SetList.module.css';

/** What this browser was told to be a voice all the same, by ids. */
const VOICES = 'tonos.voices';

/** Whether a recording that counts as a voice sounds, and nobody was found to speak in it. */
export const isWithoutSpeech = ({ kind, status, measurement }: Recording): boolean =>
  kind === 'voice' &&
  status === 'ready' &&
  measurement !== null &&
  measurement.integratedLufs !== null &&
  measurement.headSilenceSeconds === null;

/** Asks of recordings in which nobody speaks whether they are music or a sound: they would count as chapters otherwise. */
export const AskedKinds = memo(({ recordings }: { recordings: readonly Recording[] }) => {
  const [voices, setVoices] = useLocalStorage<string[]>({ key: VOICES, defaultValue: [] });
  const [change] = api.useChangeRecordingMutation();
  const put = async (id: string, kind: RecordingKind) => {
    const { error } = await change({ id, kind });
    if (error) sayError('It was not changed', error);
  };
  return recordings
    .filter((recording) => isWithoutSpeech(recording) && !voices.includes(recording.id))
    .map(({ id, name, givenName }) => (
      <p key={id} className={classes.asked} role="status">
        No speech was found in {`\u201c${givenName || name}\u201d`}. What is it?
        <Button size="compact-xs" variant="default" onClick={() => void put(id, 'music')}>
          Music
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => void put(id, 'sound')}>
          A sound
        </Button>
        <Button size="compact-xs" variant="subtle" onClick={() => setVoices([...voices, id])}>
          A voice
        </Button>
      </p>
    ));
});

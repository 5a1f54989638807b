import { TextInput } from '@mantine/core';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useAppSelector } from '../../app/store.ts';
import { listeningSeconds } from '../../listening/listening-clock.ts';
import { clock } from '../../ui/time.ts';

/** What is noticed was heard a moment before. */
const NOTICED_SECONDS = 0.5;

/** A key makes a note on what was just heard; it plays on while the note is written. */
export function NoteField({ note }: { note(seconds: number, text: string): void }) {
  const [at, setAt] = useState<number | null>(null);
  const playing = useAppSelector((state) => state.listening.playing);
  useHotkeys('w', () => setAt(Math.max(0, listeningSeconds() - (playing ? NOTICED_SECONDS : 0))), {
    preventDefault: true,
  });
  if (at === null) return null;
  return (
    <TextInput
      autoFocus
      mt={8}
      aria-label={`Note at ${clock(at, 1)}`}
      placeholder="What is to be seen to here; Enter keeps it"
      leftSection={<span className="figure">{clock(at, 1)}</span>}
      leftSectionWidth={84}
      maxLength={2000}
      onBlur={(event) => !event.currentTarget.value.trim() && setAt(null)}
      onKeyDown={(event) => {
        if (event.key === 'Escape') setAt(null);
        const text = event.currentTarget.value.trim();
        if (event.key !== 'Enter' || !text) return;
        note(at, text);
        setAt(null);
      }}
    />
  );
}

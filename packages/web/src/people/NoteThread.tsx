import { Button, Group, Select, Textarea } from '@mantine/core';
import { useForm } from '@mantine/form';
import type { Note, NoteAbout } from '@tonos/contract';
import { api } from '../api/api.ts';
import { sayError } from '../ui/notify.ts';
import { moment } from '../ui/time.ts';
import classes from './NoteThread.module.css';
import { useMe } from './use-me.ts';

interface NoteThreadProps {
  about: Pick<NoteAbout, 'kind' | 'id'>;
  /** Of a chain: its steps, by their ids, as they are called. */
  steps?: readonly { id: string; name: string }[];
}

/** What people say to each other about something, the oldest first; what is seen to stays readable. */
export function NoteThread({ about, steps = [] }: NoteThreadProps) {
  const me = useMe();
  const { data: notes = [] } = api.useNotesQuery(about);
  const { data: people = [] } = api.usePeopleQuery(undefined, { skip: !me?.shared });
  const [add, { isLoading }] = api.useAddNoteMutation();
  const form = useForm<{ text: string; stepId: string | null }>({ initialValues: { text: '', stepId: null } });
  const { text, stepId } = form.values;
  const colleagues = people.filter(({ id, left }) => !left && id !== me?.id);
  const write = async () => {
    const { error } = await add({ about: { ...about, stepId }, text });
    if (error) sayError('The note was not written', error);
    else form.setFieldValue('text', '');
  };
  const stepName = (id: string) => steps.find((step) => step.id === id)?.name ?? 'a step that is gone';
  return (
    <section className={classes.thread} aria-label="Notes">
      <h2 className={classes.head}>Notes</h2>
      <ul className={classes.list}>
        {notes.map((note) => (
          <NoteLine key={note.id} note={note} step={note.about.stepId && stepName(note.about.stepId)} />
        ))}
      </ul>
      <form onSubmit={form.onSubmit(() => void write())}>
        <Textarea
          aria-label="A note"
          placeholder={
            colleagues.length
              ? `Say something. @${colleagues[0].name} lets them know.`
              : 'Say something about it, for whoever comes next.'
          }
          autosize
          minRows={1}
          maxLength={10_000}
          {...form.getInputProps('text')}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void write();
          }}
        />
        {text.trim() && (
          <Group gap={8} mt={6}>
            {steps.length > 0 && (
              <Select
                size="xs"
                aria-label="What it is about"
                placeholder="the whole chain"
                clearable
                data={steps.map(({ id, name }, i) => ({ value: id, label: `${i + 1} ${name}` }))}
                {...form.getInputProps('stepId')}
              />
            )}
            {colleagues.length > 0 && (
              <Select
                size="xs"
                aria-label="Name a colleague"
                placeholder="name a colleague"
                data={colleagues.map(({ id, name }) => ({ value: id, label: name }))}
                value={null}
                onChange={(id) => {
                  const person = colleagues.find((one) => one.id === id);
                  if (person) form.setFieldValue('text', `${text.trimEnd()} @${person.name} `);
                }}
              />
            )}
            <Button size="xs" type="submit" loading={isLoading}>
              Write
            </Button>
          </Group>
        )}
      </form>
    </section>
  );
}

function NoteLine({ note, step }: { note: Note; step: string | null }) {
  const me = useMe();
  const [change] = api.useChangeNoteMutation();
  const [remove] = api.useRemoveNoteMutation();
  const { id, text, by, at, done } = note;
  const settle = async () => {
    const { error } = await change({ id, done: !done });
    if (error) sayError('The note stays as it was', error);
  };
  const drop = async () => {
    const { error } = await remove(id);
    if (error) sayError('The note stays', error);
  };
  return (
    <li className={classes.line} data-done={done !== null || undefined}>
      <span className={classes.by}>
        {by.name || 'you'} <span className="quiet small">{moment(at)}</span>
        {step && <span className="quiet small"> on {step}</span>}
      </span>
      <span className={classes.text}>{text}</span>
      <span className={classes.acts}>
        {done && <span className="quiet small">seen to{done.by.name && ` by ${done.by.name}`}</span>}
        <Button size="compact-xs" variant="subtle" onClick={() => void settle()}>
          {done ? 'Open again' : 'Seen to'}
        </Button>
        {me?.id === by.id && (
          <Button size="compact-xs" variant="subtle" color="var(--over)" onClick={() => void drop()}>
            Take away
          </Button>
        )}
      </span>
    </li>
  );
}

import { Button, PasswordInput, Stack, TextInput, Title } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDocumentTitle } from '@mantine/hooks';
import { SHORTEST_PASSWORD } from '@tonos/contract';
import { type ReactNode, useState } from 'react';
import { reasonOf } from '../../api/reason-of.ts';
import { NameMark } from '../../ui/NameMark.tsx';
import classes from './Entry.module.css';

interface EntryProps {
  title: string;
  about?: ReactNode;
  children: ReactNode;
}

/** A way in: nothing of the application but its name. */
export function Entry({ title, about, children }: EntryProps) {
  useDocumentTitle(`${title} \u00b7 Tonos`);
  return (
    <main className={classes.entry}>
      <div className={classes.sheet}>
        <div className={classes.mark}>
          <NameMark />
        </div>
        <Title order={1}>{title}</Title>
        <p className={classes.about}>{about}</p>
        {children}
      </div>
    </main>
  );
}

interface EntryFormProps {
  /** Whether a name is asked for; the way back knows whose it is. */
  named: boolean;
  /** A password that is made, and not one that is known. */
  isNew: boolean;
  act: string;
  onEnter(name: string, password: string): Promise<{ error?: unknown }>;
}

/** Name and password, and in words what was wrong with them. */
export function EntryForm({ named, isNew, act, onEnter }: EntryFormProps) {
  const form = useForm({ initialValues: { name: '', password: '' } });
  const { name, password } = form.values;
  const [entering, setEntering] = useState(false);
  const [refused, setRefused] = useState<string>();
  const enter = async () => {
    setEntering(true);
    setRefused(undefined);
    const { error } = await onEnter(name, password);
    setEntering(false);
    if (error) setRefused(reasonOf(error));
  };
  return (
    <form onSubmit={form.onSubmit(() => void enter())}>
      <Stack>
        {named && (
          <TextInput
            label="Name"
            description={isNew ? 'As colleagues know you. You sign in with it.' : undefined}
            autoComplete="username"
            required
            withAsterisk={false}
            maxLength={100}
            {...form.getInputProps('name')}
            data-autofocus
            autoFocus
          />
        )}
        <PasswordInput
          label="Password"
          description={
            isNew ? `${SHORTEST_PASSWORD} characters or more. A few words in a row are easy to keep.` : undefined
          }
          autoComplete={isNew ? 'new-password' : 'current-password'}
          required
          withAsterisk={false}
          {...form.getInputProps('password')}
          autoFocus={!named}
        />
        {refused && (
          <p className={classes.refused} role="alert">
            {refused}
          </p>
        )}
        <Button type="submit" loading={entering} disabled={!password || (named && !name.trim())}>
          {act}
        </Button>
      </Stack>
    </form>
  );
}

import { Button, Group, PasswordInput, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDisclosure } from '@mantine/hooks';
import { type Me, type Session, SHORTEST_PASSWORD } from '@tonos/contract';
import { api } from '../../api/api.ts';
import { ROLE_WORDS } from '../../people/role-words.ts';
import { useMe } from '../../people/use-me.ts';
import { FormActs } from '../../ui/FormActs.tsx';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { moment } from '../../ui/time.ts';
import { browserText } from './browser-text.ts';
import classes from './People.module.css';
import { TokenList } from './TokenList.tsx';

/** Oneself: name and password, where one is signed in, and tokens for the command. */
export function YouPage() {
  const me = useMe();
  const [signOut] = api.useSignOutMutation();
  if (!me?.shared) return <Page title={'\u00a0'}>{null}</Page>;
  const leave = async () => {
    const { error } = await signOut();
    if (error) sayError('You are still signed in', error);
    else location.assign('/');
  };
  return (
    <Page
      title={me.name}
      about={`${me.role}: ${ROLE_WORDS[me.role]}`}
      acts={
        <Button variant="default" onClick={() => void leave()}>
          Sign out
        </Button>
      }
    >
      <NameForm key={me.name} me={me} />
      <Sessions />
      <TokenList me={me} />
    </Page>
  );
}

function NameForm({ me }: { me: Me }) {
  const form = useForm({ initialValues: { name: me.name } });
  const name = form.values.name.trim();
  const [changing, password] = useDisclosure(false);
  const [change, { isLoading }] = api.useChangeMeMutation();
  const rename = async () => {
    const { error } = await change({ name });
    if (error) sayError('Your name was not changed', error);
    else say(`You are ${name} from now on, and sign in with it.`);
  };
  return (
    <section className={classes.form} aria-label="Name and password">
      <form onSubmit={form.onSubmit(() => void rename())}>
        <Group align="flex-end">
          <TextInput
            label="Name"
            description="Stands beside what you do. You sign in with it."
            maxLength={100}
            {...form.getInputProps('name')}
            style={{ flex: 1 }}
          />
          <Button type="submit" variant="default" loading={isLoading} disabled={!name || name === me.name}>
            Rename
          </Button>
          {me.hasPassword && !changing && (
            <Button variant="default" onClick={password.open}>
              Another password
            </Button>
          )}
        </Group>
      </form>
      {changing && <PasswordForm onDone={password.close} />}
    </section>
  );
}

function PasswordForm({ onDone }: { onDone(): void }) {
  const form = useForm({ initialValues: { old: '', new: '' } });
  const [change, { isLoading }] = api.useChangeMeMutation();
  const save = async (password: { old: string; new: string }) => {
    const { error } = await change({ password });
    if (error) return sayError('The password stays as it was', error);
    say('The new password counts from now on. Your other sessions and your tokens are ended.');
    onDone();
  };
  return (
    <form onSubmit={form.onSubmit((values) => void save(values))}>
      <Stack mt="md">
        <PasswordInput label="Old password" autoComplete="current-password" {...form.getInputProps('old')} autoFocus />
        <PasswordInput
          label="New password"
          description={`${SHORTEST_PASSWORD} characters or more. Your other sessions and your tokens end with the old one.`}
          autoComplete="new-password"
          {...form.getInputProps('new')}
        />
        <FormActs
          act="Set it"
          isBusy={isLoading}
          isIncomplete={!form.values.old || !form.values.new}
          onCancel={onDone}
        />
      </Stack>
    </form>
  );
}

function Sessions() {
  const { data: sessions = [] } = api.useSessionsQuery();
  const [end] = api.useEndSessionMutation();
  const drop = async ({ id, browser }: Session) => {
    const { error } = await end(id);
    if (error) sayError('The session goes on', error);
    else say(`${browserText(browser)} is signed out.`);
  };
  return (
    <section className={classes.section} aria-label="Where you are signed in">
      <h2>Where you are signed in</h2>
      <table className="ledger">
        <LedgerHead columns={['Browser', 'Signed in', 'Last used']} acts />
        <tbody>
          {sessions.map((session) => (
            <tr key={session.id}>
              <td className="name">{browserText(session.browser)}</td>
              <td className="quiet small">{moment(session.createdAt)}</td>
              <td className="quiet small">{session.current ? 'this page' : moment(session.lastUsedAt)}</td>
              <td>
                {!session.current && (
                  <Group justify="flex-end">
                    <Button size="compact-xs" variant="subtle" onClick={() => void drop(session)}>
                      Sign out
                    </Button>
                  </Group>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

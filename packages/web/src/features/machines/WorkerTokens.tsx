import { Button, Group, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import type { WorkerToken } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { CopyOnce } from '../../people/CopyOnce.tsx';
import { FormActs } from '../../ui/FormActs.tsx';
import { say, sayError } from '../../ui/notify.ts';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { moment } from '../../ui/time.ts';
import classes from './Machines.module.css';

/** The tokens by which machines work along. */
export function WorkerTokens() {
  const { data: tokens = [] } = api.useWorkerTokensQuery();
  const [end] = api.useEndWorkerTokenMutation();
  const drop = async ({ id, name }: WorkerToken) => {
    const { error } = await end(id);
    if (error) sayError(`${name} is still good`, error);
    else say(`${name} is good no more. What its machines had goes on elsewhere.`);
  };
  if (!tokens.length) return null;
  return (
    <section className={classes.section} aria-label="Worker tokens">
      <h2>Worker tokens</h2>
      <table className="ledger">
        <LedgerHead columns={['Name', 'Made']} acts />
        <tbody>
          {tokens.map((token) => (
            <tr key={token.id}>
              <td className="name">{token.name}</td>
              <td className="quiet small">{moment(token.createdAt)}</td>
              <td>
                <Group justify="flex-end">
                  <Button size="compact-xs" variant="subtle" color="var(--over)" onClick={() => void drop(token)}>
                    End
                  </Button>
                </Group>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** What a machine needs to work along: a token, told once, and what to type there. */
export function TokenForm({ hasQueue, onDone }: { hasQueue: boolean; onDone(): void }) {
  const form = useForm({ initialValues: { name: '' } });
  const [made, setMade] = useState<string>();
  const [make, { isLoading }] = api.useMakeWorkerTokenMutation();
  const create = async (values: { name: string }) => {
    const { data, error } = await make(values);
    if (data) setMade(data.token);
    else sayError('No token was made', error);
  };
  if (made)
    return (
      <Stack>
        <CopyOnce label="Worker token" description="It is not shown again." value={made} />
        <p>On the other machine, in a copy of Tonos of this version:</p>
        <pre className={classes.lines}>
          {`export TONOS_SERVER=${window.location.origin}\nexport TONOS_WORKER_TOKEN=${made}\nnpm run worker`}
        </pre>
        {hasQueue && (
          <p className="quiet small">
            With TONOS_QUEUE set as it is for the server, it learns of work at once; without, within a second.
          </p>
        )}
        <Group justify="flex-end">
          <Button onClick={onDone}>Done</Button>
        </Group>
      </Stack>
    );
  return (
    <form onSubmit={form.onSubmit((values) => void create(values))}>
      <Stack>
        <TextInput
          label="Name of its token"
          description="One machine or several can use it; ending it ends them all."
          placeholder="studio basement"
          required
          maxLength={100}
          {...form.getInputProps('name')}
          data-autofocus
        />
        <FormActs act="Make a token" isBusy={isLoading} isIncomplete={!form.values.name.trim()} onCancel={onDone} />
      </Stack>
    </form>
  );
}

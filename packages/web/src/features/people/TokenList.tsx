import { Button, Group, Modal, NumberInput, Select, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDisclosure } from '@mantine/hooks';
import { type AccessToken, type Me, ROLES, type Role, reaches } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { CopyOnce } from '../../people/CopyOnce.tsx';
import { roleChoices } from '../../people/role-words.ts';
import { FormActs } from '../../ui/FormActs.tsx';
import { say, sayError } from '../../ui/notify.ts';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { moment } from '../../ui/time.ts';
import classes from './People.module.css';

/** Tokens for the command and for scripts: one's own; owners see everybody's. */
export function TokenList({ me }: { me: Me }) {
  const { data: tokens = [] } = api.useTokensQuery();
  const [end] = api.useEndTokenMutation();
  const [making, form] = useDisclosure(false);
  const drop = async ({ id, name }: AccessToken) => {
    const { error } = await end(id);
    if (error) sayError(`${name} is still good`, error);
    else say(`${name} is good no more.`);
  };
  return (
    <section className={classes.section} aria-label="Tokens">
      <div className={classes.sectionHead}>
        <h2>Tokens for the command</h2>
        <Button variant="default" size="compact-sm" onClick={form.open}>
          Make a token
        </Button>
      </div>
      {tokens.length === 0 && (
        <p className="quiet small">
          None. With one, <kbd>tonos run --server</kbd> sends files here and fetches what is within, from a shell or a
          build.
        </p>
      )}
      {tokens.length > 0 && (
        <table className="ledger">
          <LedgerHead columns={['Name', 'Role', me.role === 'owner' && 'Whose', 'Good until', 'Last used']} acts />
          <tbody>
            {tokens.map((token) => (
              <tr key={token.id}>
                <td className="name">{token.name}</td>
                <td>{token.role}</td>
                {me.role === 'owner' && <td>{token.person.name}</td>}
                <td className="quiet small">{moment(token.endsAt)}</td>
                <td className="quiet small">{token.lastUsedAt ? moment(token.lastUsedAt) : 'never'}</td>
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
      )}
      <Modal opened={making} onClose={form.close} title="Make a token" size="lg">
        <TokenForm me={me} onDone={form.close} />
      </Modal>
    </section>
  );
}

function TokenForm({ me, onDone }: { me: Me; onDone(): void }) {
  const role: Role = reaches(me.role, 'engineer') ? 'engineer' : me.role;
  const form = useForm({ initialValues: { name: '', role, days: 90 } });
  const [made, setMade] = useState<string>();
  const [make, { isLoading }] = api.useMakeTokenMutation();
  const create = async ({ days, ...values }: typeof form.values) => {
    const { data, error } = await make({ ...values, days: Number(days) || 1 });
    if (data) setMade(data.token);
    else sayError('No token was made', error);
  };
  if (made)
    return (
      <Stack>
        <CopyOnce
          label="Token"
          description="Set it as TONOS_TOKEN where the command runs. It is not shown again."
          value={made}
        />
        <Group justify="flex-end">
          <Button onClick={onDone}>Done</Button>
        </Group>
      </Stack>
    );
  return (
    <form onSubmit={form.onSubmit((values) => void create(values))}>
      <Stack>
        <TextInput
          label="Name"
          description="Where it is used, so that you know it again."
          placeholder="night build"
          required
          maxLength={100}
          data-autofocus
          {...form.getInputProps('name')}
        />
        <Select
          label="It may what this role may"
          data={roleChoices(ROLES.filter((one) => reaches(me.role, one)))}
          allowDeselect={false}
          {...form.getInputProps('role')}
        />
        <NumberInput
          label="Good for"
          suffix=" days"
          min={1}
          max={366}
          allowDecimal={false}
          w={160}
          {...form.getInputProps('days')}
        />
        <FormActs act="Make it" isBusy={isLoading} isIncomplete={!form.values.name.trim()} onCancel={onDone} />
      </Stack>
    </form>
  );
}

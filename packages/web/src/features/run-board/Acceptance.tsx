import { Button, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import type { RunItem } from '@tonos/contract';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { moment } from '../../ui/time.ts';
import classes from './RunBoard.module.css';

/** An item that is off target is delivered only where somebody wrote down why. */
export function Acceptance({ item: { runId, id, name, accepted } }: { item: RunItem }) {
  const form = useForm({ initialValues: { reason: '' } });
  const [accept, { isLoading }] = api.useAcceptItemMutation();
  const [withdraw] = api.useWithdrawAcceptanceMutation();
  const take = async ({ reason }: { reason: string }) => {
    const { error } = await accept({ runId, itemId: id, reason });
    if (error) sayError(`${name} was not accepted`, error);
  };
  const leave = async () => {
    const { error } = await withdraw({ runId, itemId: id });
    if (error) sayError(`${name} is still accepted`, error);
    else form.setFieldValue('reason', accepted?.reason ?? '');
  };
  if (accepted)
    return (
      <p className={classes.accepted}>
        <span>
          Accepted {moment(accepted.at)}
          {accepted.by && ` by ${accepted.by}`}: {accepted.reason}
        </span>
        <Button size="compact-xs" variant="default" onClick={() => void leave()}>
          Withdraw
        </Button>
      </p>
    );
  return (
    <form className={classes.accepted} onSubmit={form.onSubmit((values) => void take(values))}>
      <TextInput
        size="xs"
        w={340}
        aria-label={`Why ${name} is delivered off target`}
        placeholder="Why it is delivered all the same"
        maxLength={2000}
        {...form.getInputProps('reason')}
      />
      <Button size="xs" type="submit" variant="default" disabled={!form.values.reason.trim()} loading={isLoading}>
        Accept with this reason
      </Button>
    </form>
  );
}

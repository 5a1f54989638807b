import { Button, TextInput } from '@mantine/core';
import type { RunItem } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { moment } from '../../ui/time.ts';
import classes from './RunBoard.module.css';

/** An item that is off target is delivered only where somebody wrote down why. */
export function Acceptance({ item: { runId, id, name, accepted } }: { item: RunItem }) {
  const [reason, setReason] = useState('');
  const [accept, { isLoading }] = api.useAcceptItemMutation();
  const [withdraw] = api.useWithdrawAcceptanceMutation();
  const take = async () => {
    const { error } = await accept({ runId, itemId: id, reason });
    if (error) sayError(`${name} was not accepted`, error);
  };
  const leave = async () => {
    const { error } = await withdraw({ runId, itemId: id });
    if (error) sayError(`${name} is still accepted`, error);
    else setReason(accepted?.reason ?? '');
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
    <form
      className={classes.accepted}
      onSubmit={(event) => {
        event.preventDefault();
        void take();
      }}
    >
      <TextInput
        size="xs"
        w={340}
        aria-label={`Why ${name} is delivered off target`}
        placeholder="Why it is delivered all the same"
        maxLength={2000}
        value={reason}
        onChange={(event) => setReason(event.currentTarget.value)}
      />
      <Button size="xs" type="submit" variant="default" disabled={!reason.trim()} loading={isLoading}>
        Accept with this reason
      </Button>
    </form>
  );
}

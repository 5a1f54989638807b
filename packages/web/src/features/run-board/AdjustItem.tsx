import { Button } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import type { Run, RunItem } from '@tonos/contract';
import { AdjustDrawer } from '../../adjusting/AdjustDrawer.tsx';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { Remedies } from './Remedies.tsx';
import classes from './RunBoard.module.css';

/** The chain changed for one recording, and that one rendered again alone. */
export function AdjustItem({ run, item }: { run: Run; item: RunItem }) {
  const [opened, drawer] = useDisclosure(false);
  const { data: recording } = api.useRecordingQuery(item.recordingId, { skip: !opened });
  const [retry, { isLoading }] = api.useRetryRunMutation();
  const again = async () => {
    const { error } = await retry({ id: run.id, itemIds: [item.id] });
    if (error) sayError(`${item.name} was not rendered again`, error);
  };
  return (
    <div className={classes.accepted}>
      <Button size="xs" variant="default" onClick={drawer.open}>
        Adjust the chain for this recording
      </Button>
      <Button size="xs" variant="default" loading={isLoading} onClick={() => void again()}>
        Render it again
      </Button>
      {item.status === 'off-target' && <Remedies run={run} itemIds={[item.id]} size="xs" />}
      {recording && (
        <AdjustDrawer recordings={[recording]} chainId={run.chainId} opened={opened} onClose={drawer.close} />
      )}
    </div>
  );
}

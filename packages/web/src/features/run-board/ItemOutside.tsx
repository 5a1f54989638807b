import { Button, Group } from '@mantine/core';
import type { Run, RunItem } from '@tonos/contract';
import { api } from '../../api/api.ts';
import { useSendOut } from '../../outside/use-send-out.tsx';
import { For } from '../../people/For.tsx';
import { say, sayError } from '../../ui/notify.ts';

/** What came of the chain, to go on from: with another program, or as a recording of its own. */
export function ItemOutside({ run, item }: { run: Run; item: RunItem }) {
  const { sendOut, isSending } = useSendOut();
  const [keep, keeping] = api.useItemAsRecordingMutation();
  const { data: chain } = api.useChainQuery(run.chainId, { skip: !run.chainId });
  const last = chain?.steps.findLast(({ on }) => on)?.id;
  const own = async () => {
    const { data, error } = await keep({ runId: run.id, itemId: item.id });
    if (data) say(`${data.name} is a recording of its own in ${run.titleName}.`);
    else sayError('It was not taken in', error);
  };
  return (
    <For least="engineer">
      <Group gap={8} my={8}>
        {last && (
          <Button
            size="compact-xs"
            variant="default"
            loading={isSending}
            title="As it is after the last step of the chain, before the finish; what comes back is laid in there"
            onClick={() => void sendOut({ recordingIds: [item.recordingId], chainId: run.chainId, stepId: last })}
          >
            Send out after the chain
          </Button>
        )}
        <Button
          size="compact-xs"
          variant="default"
          loading={keeping.isLoading}
          title="This delivery, for good: it can be run again like any other"
          onClick={() => void own()}
        >
          As a recording of its own
        </Button>
      </Group>
    </For>
  );
}

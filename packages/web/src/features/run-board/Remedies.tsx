import { Button, Group, Modal, Stack } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import type { ItemRemedy, Run } from '@tonos/contract';
import { api } from '../../api/api.ts';
import { say, sayError } from '../../ui/notify.ts';
import classes from './RunBoard.module.css';

interface RemediesProps {
  run: Run;
  /** The items off target that remedies are looked for; each is rendered whole for it. */
  itemIds: readonly string[];
  size?: 'xs';
}

/** What would bring items inside, foretold on the whole of each, and applied in one act: new attempts, earlier ones stay. */
export function Remedies({ run, itemIds, size }: RemediesProps) {
  const [opened, { open, close }] = useDisclosure(false);
  const [find, { data: remedies, isLoading, error, reset }] = api.useFindRemediesMutation();
  const [change] = api.useChangeRecordingsMutation();
  const [retry, retrying] = api.useRetryRunMutation();
  const look = () => {
    reset();
    open();
    void find({ id: run.id, itemIds: [...itemIds] });
  };
  const helps = (remedies ?? []).filter(({ adjustments }) => adjustments.length > 0);
  const apply = async () => {
    for (const { itemId, adjustments } of helps) {
      const { recordingId, name } = run.items.find(({ id }) => id === itemId)!;
      const { error: refused } = await change({
        ids: [recordingId],
        adjust: { chainId: run.chainId, steps: adjustments, clear: [], replace: true },
      });
      if (refused) return sayError(`${name} was not adjusted`, refused);
    }
    const { error: refused } = await retry({ id: run.id, itemIds: helps.map(({ itemId }) => itemId) });
    if (refused) return sayError('Nothing was rendered again', refused);
    say(`${helps.length} rendered again; how they came out before is kept with each.`);
    close();
  };
  return (
    <>
      <Button variant="default" size={size} onClick={look}>
        {itemIds.length > 1 ? `Find remedies for ${itemIds.length}` : 'Find a remedy'}
      </Button>
      <Modal opened={opened} onClose={close} size="lg" title="What would bring them inside">
        <Stack>
          {isLoading && (
            <p className="quiet" role="status">
              Each is rendered whole and measured, so that what is said here comes true. This takes as long as the run
              did, or a few times that.
            </p>
          )}
          {error && <p className="verdict-over">Remedies could not be looked for. Try it again.</p>}
          {remedies && (
            <ul className={classes.remedies}>
              {remedies.map((remedy) => (
                <RemedyLine key={remedy.itemId} remedy={remedy} name={nameOf(run, remedy)} />
              ))}
            </ul>
          )}
          <Group justify="flex-end">
            <Button variant="default" onClick={close}>
              Leave them
            </Button>
            <Button disabled={!helps.length} loading={retrying.isLoading} onClick={() => void apply()}>
              Apply {helps.length || ''} and render again
            </Button>
          </Group>
        </Stack>
      </Modal>
    </>
  );
}

const nameOf = (run: Run, { itemId }: ItemRemedy): string => run.items.find(({ id }) => id === itemId)?.name ?? '';

function RemedyLine({ remedy: { adjustments, forecast, sentence }, name }: { remedy: ItemRemedy; name: string }) {
  return (
    <li>
      <strong>{name}</strong>{' '}
      <span className={adjustments.length ? '' : 'verdict-over'}>
        {forecast.verdict === 'within' ? 'comes inside' : 'stays off target'}
      </span>
      <div className="quiet small">{sentence}</div>
    </li>
  );
}

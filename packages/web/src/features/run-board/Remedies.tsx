import { Button, Group, Modal, Progress, Stack } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import type { ItemRemedy, Run } from '@tonos/contract';
import { useRef } from 'react';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { useAppSelector } from '../../app/store.ts';
import { say, sayError } from '../../ui/notify.ts';
import { timeLeft } from '../../ui/time.ts';
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
  const [find, { data: remedies, isLoading, error }] = api.useFindRemediesMutation();
  const [apply, applying] = api.useFindRemediesMutation();
  const search = useRef<{ abort(): void }>(null);
  // those that are looked for: others may get off target while the page is open
  const asked = useRef<readonly string[]>([]);
  const look = () => {
    asked.current = itemIds;
    open();
    search.current = find({ id: run.id, itemIds: [...itemIds] });
  };
  const leave = () => {
    search.current?.abort();
    close();
  };
  const helps = (remedies ?? []).filter(({ adjustments }) => adjustments.length > 0);
  const take = async () => {
    const { error: refused } = await apply({ id: run.id, itemIds: helps.map(({ itemId }) => itemId), apply: true });
    if (refused) return sayError('Nothing was rendered again', refused);
    say(`${helps.length} rendered again; how they came out before is kept with each.`);
    close();
  };
  return (
    <>
      <Button variant="default" size={size} onClick={look}>
        {itemIds.length > 1 ? `Find remedies for ${itemIds.length}` : 'Find a remedy'}
      </Button>
      <Modal opened={opened} onClose={leave} size="lg" title="What would bring them inside">
        <Stack>
          {isLoading && (
            <>
              <p className="quiet">Each is rendered whole and measured, so that what is said here comes true.</p>
              <ul className={classes.remedies}>
                {asked.current.map((id) => (
                  <SearchLine key={id} id={id} name={nameOf(run, id)} />
                ))}
              </ul>
            </>
          )}
          {!isLoading && error && (
            <p className="verdict-over" role="alert">
              {reasonOf(error)}
            </p>
          )}
          {!isLoading && remedies && (
            <ul className={classes.remedies}>
              {remedies.map((remedy) => (
                <RemedyLine key={remedy.itemId} remedy={remedy} name={nameOf(run, remedy.itemId)} />
              ))}
            </ul>
          )}
          <Group justify="flex-end">
            <Button variant="default" onClick={leave}>
              {isLoading ? 'Stop looking' : 'Leave them'}
            </Button>
            {error && !isLoading ? (
              <Button onClick={look}>Look again</Button>
            ) : (
              <Button disabled={isLoading || !helps.length} loading={applying.isLoading} onClick={() => void take()}>
                Apply {(!isLoading && helps.length) || ''} and render again
              </Button>
            )}
          </Group>
        </Stack>
      </Modal>
    </>
  );
}

const nameOf = (run: Run, itemId: string): string => run.items.find(({ id }) => id === itemId)?.name ?? '';

function SearchLine({ id, name }: { id: string; name: string }) {
  const progress = useAppSelector((state) => state.progress[id]);
  return (
    <li>
      <strong>{name}</strong>{' '}
      <span className="quiet small">
        {progress
          ? progress.secondsLeft === null
            ? progress.stage
            : timeLeft(progress.secondsLeft)
          : 'waits its turn'}
      </span>
      <Progress value={100 * (progress?.share ?? 0)} size="xs" aria-label={name} />
    </li>
  );
}

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

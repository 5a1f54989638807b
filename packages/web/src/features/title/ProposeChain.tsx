import { Button, Group, Modal, Select, Stack } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import type { Recording, Target, Title } from '@tonos/contract';
import { alikeAdjusted, proposeChain, stepOfKind } from '@tonos/core';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import classes from './ProposeChain.module.css';

interface ProposeChainProps {
  title: Title;
  recordings: readonly Recording[];
  /** The title's own. */
  target: Target | undefined;
}

/** A chain that suits recordings together, from what was heard in them; opened on the chain page to be changed as one likes. */
export function ProposeChain({ title, recordings, target: own }: ProposeChainProps) {
  const [opened, { open, close }] = useDisclosure(false);
  const { data: targets = [] } = api.useTargetsQuery();
  const [chosen, setChosen] = useState<string | null>(null);
  const target = targets.find(({ id }) => id === (chosen ?? own?.id)) ?? targets[0];
  const heard = useMemo(() => recordings.filter(({ measurement }) => measurement), [recordings]);
  const proposal = useMemo(
    () =>
      opened && target && heard.length
        ? proposeChain(
            heard.map(({ measurement }) => measurement!),
            target,
            `Proposed for ${title.name}`,
          )
        : undefined,
    [opened, target, heard, title.name],
  );
  const [add, { isLoading }] = api.useAddChainMutation();
  const [change] = api.useChangeRecordingsMutation();
  const navigate = useNavigate();
  const take = async () => {
    const { data: chain, error } = await add(proposal!.chain);
    if (!chain) return sayError('The chain was not made', error);
    const own = heard.map(({ id }, i) => ({ id, steps: proposal!.adjustments[i] }));
    for (const { ids, steps } of alikeAdjusted(own)) {
      const { error: refused } = await change({ ids, adjust: { chainId: chain.id, steps, clear: [], replace: true } });
      if (refused) sayError(`${ids.length} of them keep the chain as it is`, refused);
    }
    void navigate(`/chains/${chain.id}?example=${heard[0].id}&target=${target!.id}`);
  };
  const adjusted = proposal?.adjustments.filter((steps) => steps.length).length ?? 0;
  return (
    <>
      <Button variant="default" onClick={open} disabled={!heard.length}>
        Propose a chain
      </Button>
      <Modal
        opened={opened}
        onClose={close}
        size="lg"
        title={`A chain for ${heard.length} ${heard.length === 1 ? 'recording' : 'recordings'}`}
      >
        <Stack>
          <Select
            label="Target"
            data={targets.map(({ id, name }) => ({ value: id, label: name }))}
            value={target?.id ?? null}
            allowDeselect={false}
            onChange={setChosen}
          />
          {proposal && (
            <ol className={classes.steps} aria-label="Proposed steps">
              {proposal.chain.steps.map(({ id, kind, settings, note }) => (
                <li key={id}>
                  <strong>{stepOfKind(kind)!.title}</strong>{' '}
                  <span className="figure">
                    {stepOfKind(kind)!.describe(stepOfKind(kind)!.settings.parse(settings))}
                  </span>
                  <div className="quiet small">{note}</div>
                </li>
              ))}
            </ol>
          )}
          {proposal && !proposal.chain.steps.length && (
            <p className="quiet">Nothing was heard that needs a step: the target{'\u2019'}s finish is enough.</p>
          )}
          {adjusted > 0 && (
            <p className="quiet small">
              {adjusted} of them need other settings: they get adjustments of their own, which can be changed as well.
            </p>
          )}
          <Group justify="flex-end">
            <Button variant="default" onClick={close}>
              Not now
            </Button>
            <Button onClick={() => void take()} loading={isLoading} disabled={!proposal?.chain.steps.length}>
              Open it as a chain
            </Button>
          </Group>
        </Stack>
      </Modal>
    </>
  );
}

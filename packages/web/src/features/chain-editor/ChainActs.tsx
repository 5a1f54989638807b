import { ActionIcon, Button, Tooltip } from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import type { Chain } from '@tonos/contract';
import { memo } from 'react';
import { useAppDispatch } from '../../app/store.ts';
import { ChainMenu } from './ChainMenu.tsx';
import { chainEditorSlice, type EditedChain } from './chain-slice.ts';

const { undone, redone, replaced } = chainEditorSlice.actions;

interface ChainActsProps {
  chain: Chain;
  edited: EditedChain;
  changed: boolean;
  onKeep(): void;
  onPropose?: () => void;
}

/** Undo and redo, back to the revision, keep as the next one, and what is done to the chain as a whole. */
export const ChainActs = memo(function ChainActs({
  chain,
  edited: { present: steps, past, future },
  changed,
  onKeep,
  onPropose,
}: ChainActsProps) {
  const dispatch = useAppDispatch();
  const chainId = chain.id;
  return (
    <>
      <Tooltip label="Undo (Ctrl z)">
        <ActionIcon
          size="lg"
          variant="default"
          aria-label="Undo"
          disabled={!past.length}
          onClick={() => dispatch(undone({ chainId }))}
        >
          <IconArrowBackUp size={18} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Redo (Ctrl Shift z)">
        <ActionIcon
          size="lg"
          variant="default"
          aria-label="Redo"
          disabled={!future.length}
          onClick={() => dispatch(redone({ chainId }))}
        >
          <IconArrowForwardUp size={18} />
        </ActionIcon>
      </Tooltip>
      {changed && (
        <Button variant="default" onClick={() => dispatch(replaced({ chainId, steps: chain.steps }))}>
          Back to revision {chain.revision}
        </Button>
      )}
      <ChainMenu chain={chain} steps={steps} onPropose={onPropose} />
      <Button disabled={!changed} onClick={onKeep}>
        Keep as revision {chain.revision + 1}
      </Button>
    </>
  );
});

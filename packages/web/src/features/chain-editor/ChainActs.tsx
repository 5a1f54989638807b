import { Button } from '@mantine/core';
import type { Chain } from '@tonos/contract';
import { memo } from 'react';
import { useAppDispatch } from '../../app/store.ts';
import { UndoRedo } from '../../editing/UndoRedo.tsx';
import { For } from '../../people/For.tsx';
import { ChainMenu } from './ChainMenu.tsx';
import { chainEditorSlice, type EditedChain } from './chain-slice.ts';

const { undone, redone, replaced } = chainEditorSlice.actions;

interface ChainActsProps {
  chain: Chain;
  edited: EditedChain;
  changed: boolean;
  /** Whether it can be kept as it stands. */
  mayKeep: boolean;
  onKeep(): void;
  onPropose?: () => void;
  isHeld: boolean;
  onHold(): void;
}

/** Undo and redo, back to the revision, keep as the next one, and what is done to the chain as a whole. */
export const ChainActs = memo(function ChainActs({
  chain,
  edited,
  changed,
  mayKeep,
  onKeep,
  onPropose,
  isHeld,
  onHold,
}: ChainActsProps) {
  const dispatch = useAppDispatch();
  const chainId = chain.id;
  const { present: steps } = edited;
  return (
    <>
      <UndoRedo
        edited={edited}
        onUndo={() => dispatch(undone({ chainId }))}
        onRedo={() => dispatch(redone({ chainId }))}
      />
      {changed && (
        <Button variant="default" onClick={() => dispatch(replaced({ chainId, steps: chain.steps }))}>
          Back to revision {chain.revision}
        </Button>
      )}
      <ChainMenu chain={chain} steps={steps} onPropose={onPropose} isHeld={isHeld} onHold={onHold} />
      <For least="engineer">
        <Button disabled={!changed || !mayKeep} onClick={onKeep}>
          Keep as revision {chain.revision + 1}
        </Button>
      </For>
    </>
  );
});

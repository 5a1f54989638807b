import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { ActionIcon, Button, Tooltip } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import type { Chain } from '@tonos/contract';
import { orderAdvice } from '@tonos/core';
import { useRef, useState } from 'react';
import { useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { AddStep } from './AddStep.tsx';
import classes from './ChainPage.module.css';
import { chainEditorSlice, type EditedChain } from './chain-slice.ts';
import { History } from './History.tsx';
import { KeepForm } from './KeepForm.tsx';
import { LedgerRow } from './LedgerRow.tsx';
import { defaultsOf, settingsOf } from './step-catalogue.ts';
import { sameSteps, useChainEditor } from './use-chain-editor.ts';
import { useChainKeys } from './use-chain-keys.ts';

const { added, moved, undone, redone, replaced, rebased } = chainEditorSlice.actions;

/** A chain as a ledger: its steps in order, each with its settings; kept as numbered revisions. */
export function ChainPage() {
  const { id = '' } = useParams();
  const { data: chain, error, refetch } = api.useChainQuery(id);
  const edited = useChainEditor(chain);
  if (error)
    return (
      <Page title="Chain">
        <Trouble error={error} retry={refetch} />
      </Page>
    );
  if (!chain || !edited) return <Page title={'\u00a0'}>{null}</Page>;
  return <ChainLedger chain={chain} edited={edited} />;
}

function ChainLedger({ chain, edited }: { chain: Chain; edited: EditedChain }) {
  const dispatch = useAppDispatch();
  const chainId = chain.id;
  const { present: steps, past, future } = edited;
  const [current, setCurrent] = useState<string | null>(null);
  const [opened, setOpened] = useState<string | null>(null);
  const [keeping, keepForm] = useDisclosure(false);
  const addInput = useRef<HTMLInputElement>(null);
  const [keepRevision] = api.useKeepRevisionMutation();
  const [askRevision] = api.useLazyRevisionQuery();
  const changed = !sameSteps(steps, chain.steps);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  useChainKeys({
    chainId,
    steps,
    current,
    setOpened,
    focusAdd: () => addInput.current?.focus(),
    keep: keepForm.open,
    canKeep: changed,
  });

  const add = (kind: string) => {
    const at = current ? steps.findIndex(({ id }) => id === current) + 1 : steps.length;
    const action = added({ chainId, kind, at, settings: defaultsOf(settingsOf(kind)) });
    dispatch(action);
    setCurrent(action.payload.id);
    setOpened(action.payload.id);
  };
  const drop = ({ active, over }: DragEndEvent) => {
    if (over) dispatch(moved({ chainId, id: String(active.id), to: steps.findIndex(({ id }) => id === over.id) }));
  };
  const keep = async (note: string) => {
    const { data, error } = await keepRevision({ id: chainId, steps, note, basedOn: edited.basedOn });
    if (!data) {
      sayError('No revision was kept', error);
      return;
    }
    dispatch(rebased({ chainId, basedOn: data.revision }));
    keepForm.close();
    say(`Kept as revision ${data.revision}.`);
  };
  const take = async (revision: number) => {
    const { data, error } = await askRevision({ id: chainId, revision });
    if (data) dispatch(replaced({ chainId, steps: data.steps }));
    else sayError('The revision was not taken', error);
  };

  const advice = orderAdvice(steps);
  return (
    <Page
      title={chain.name}
      about={
        <>
          {changed ? `draft after revision ${edited.basedOn}` : `revision ${chain.revision}`}
          {chain.notes && ` \u00b7 ${chain.notes}`}
        </>
      }
      acts={
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
          <Button disabled={!changed} onClick={keepForm.open}>
            Keep as revision {chain.revision + 1}
          </Button>
        </>
      }
    >
      {steps.length === 0 && (
        <p className="empty">No step yet. Type below what you hear, such as “hiss” or “uneven”, and choose a step.</p>
      )}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={steps} strategy={verticalListSortingStrategy}>
          <ol className={classes.ledger}>
            {steps.map((step, i) => (
              <LedgerRow
                key={step.id}
                chainId={chainId}
                step={step}
                place={i + 1}
                current={step.id === current}
                opened={step.id === opened}
                advice={advice.filter((one) => one.step === i)}
                onCurrent={() => setCurrent(step.id)}
                onToggle={() => setOpened(step.id === opened ? null : step.id)}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <AddStep inputRef={addInput} onAdd={add} />
      <History chain={chain} onTake={take} />
      <KeepForm opened={keeping} number={chain.revision + 1} onClose={keepForm.close} onKeep={keep} />
    </Page>
  );
}

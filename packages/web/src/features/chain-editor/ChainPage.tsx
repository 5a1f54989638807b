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
import { ActionIcon, Button } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconPlayerPauseFilled, IconPlayerPlayFilled } from '@tabler/icons-react';
import type { Chain } from '@tonos/contract';
import { forecast, type LedgerFigures, type OrderAdvice, orderAdvice, proposeChain } from '@tonos/core';
import { useCallback, useDeferredValue, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { ConflictNote } from '../../editing/ConflictNote.tsx';
import { History } from '../../editing/History.tsx';
import { KeepForm } from '../../editing/KeepForm.tsx';
import { type Conflict, sameContent } from '../../editing/use-draft.ts';
import { NoteThread } from '../../people/NoteThread.tsx';
import { OthersHere } from '../../people/OthersHere.tsx';
import { useOthersHere } from '../../people/use-presence.ts';
import { AddStep } from '../../steps/AddStep.tsx';
import { nameOfStep } from '../../steps/describe-step.ts';
import { defaultsOf, settingsOf } from '../../steps/step-catalogue.ts';
import { usePlaceSteps, useRecall } from '../../thumb-index/index.ts';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { useLatest } from '../../ui/use-latest.ts';
import { ChainActs } from './ChainActs.tsx';
import classes from './ChainPage.module.css';
import { Comparison } from './Comparison.tsx';
import { chainEditorSlice, type EditedChain } from './chain-slice.ts';
import { soundingSteps, withStep } from './holding.ts';
import { LedgerRow } from './LedgerRow.tsx';
import { Beside } from './ledger/Beside.tsx';
import { ExamplePicker } from './ledger/ExamplePicker.tsx';
import { exampleSlice } from './ledger/example-slice.ts';
import { FigureCells, FigureHeads } from './ledger/FigureCells.tsx';
import ledgerClasses from './ledger/Ledger.module.css';
import { MeasuredOf } from './ledger/MeasuredOf.tsx';
import { TargetAdvice } from './ledger/TargetAdvice.tsx';
import { TargetRows } from './ledger/TargetRows.tsx';
import { useChainListening } from './ledger/use-chain-listening.ts';
import { useExample } from './ledger/use-example.ts';
import { useLedger } from './ledger/use-ledger.ts';
import { MOVE_HELP, moveWords } from './move-words.ts';
import { FrozenNote } from './OutsideHere.tsx';
import { TwoChanges } from './TwoChanges.tsx';
import { type ChainEditor, useChainEditor } from './use-chain-editor.ts';
import { useChainKeys } from './use-chain-keys.ts';
import { useStepClipboard } from './use-step-clipboard.ts';

const { added, inserted, edited: editedStep, moved, removed, replaced } = chainEditorSlice.actions;

// made once: sensors that change make every row be drawn again
const BY_POINTER = { activationConstraint: { distance: 4 } };
const BY_KEYS = { coordinateGetter: sortableKeyboardCoordinates };
const NO_ADVICE: readonly OrderAdvice[] = [];

/** A chain as a ledger: its steps in order, each with its settings; kept as numbered revisions. */
export function ChainPage() {
  const { id = '' } = useParams();
  const { data: chain, error, refetch } = api.useChainQuery(id);
  const { edited, conflict, keep } = useChainEditor(chain);
  // what was there stays while the server does not answer
  if (error && !chain)
    return (
      <Page title="Chain">
        <Trouble error={error} retry={refetch} />
      </Page>
    );
  if (!chain || !edited) return <Page title={'\u00a0'}>{null}</Page>;
  return <ChainLedger chain={chain} edited={edited} conflict={conflict} onKeep={keep} />;
}

/** The same array for as long as it holds the same. */
function useSameList(list: string[]): string[] {
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it holds is what counts
  return useMemo(() => list, [list.join()]);
}

interface ChainLedgerProps {
  chain: Chain;
  edited: EditedChain;
  conflict: Conflict | undefined;
  onKeep: ChainEditor['keep'];
}

function ChainLedger({ chain, edited, conflict, onKeep }: ChainLedgerProps) {
  const dispatch = useAppDispatch();
  const chainId = chain.id;
  const { present: steps } = edited;
  const [current, setCurrent] = useState<string | null>(null);
  const [opened, setOpened] = useState<string | null>(null);
  const [compared, setCompared] = useState<number | null>(null);
  const [keeping, keepForm] = useDisclosure(false);
  const addInput = useRef<HTMLInputElement>(null);
  const [askRevision] = api.useLazyRevisionQuery();
  const changed = !sameContent(steps, chain.steps);
  /** Somebody kept a revision meanwhile: it is settled first what counts. */
  const behind = changed && edited.basedOn < chain.revision;
  const others = useOthersHere({ chainId });
  const example = useExample(chainId);
  const { watched, recording, target } = example;
  const { holding } = watched;
  /** As they are heard and measured. */
  const sounding = useMemo(() => soundingSteps(steps, holding), [steps, holding]);
  const ledger = useLedger(recording, sounding, watched.held, opened);
  const listening = useChainListening(recording, sounding, current, ledger);
  const hold = useLatest((id: string) => {
    const step = steps.find((one) => one.id === id);
    if (step) example.change({ holding: withStep(holding, step) });
  });
  const holdChain = useLatest(() =>
    example.change({ holding: { ...holding, chain: holding.chain ? null : [...steps] } }),
  );
  const sensors = useSensors(useSensor(PointerSensor, BY_POINTER), useSensor(KeyboardSensor, BY_KEYS));
  useChainKeys({
    chainId,
    steps,
    current,
    setOpened,
    focusAdd: () => addInput.current?.focus(),
    hold,
    keep: keepForm.open,
    canKeep: changed && !behind,
  });

  useStepClipboard(chainId, steps, current);

  /** The steps that the example asks for take the place of those that are there; undo brings them back. */
  const proposeSteps = useCallback(() => {
    if (!recording?.measurement || !target) return;
    const { steps: proposed } = proposeChain([recording.measurement], target).chain;
    dispatch(replaced({ chainId, steps: proposed }));
    const many = `${proposed.length} ${proposed.length === 1 ? 'step' : 'steps'} for ${recording.name}`;
    say(
      proposed.length
        ? `${many}; why each is there stands with it. Ctrl z brings back what was there.`
        : `${recording.name} needs no step for this target. Ctrl z brings back what was there.`,
    );
  }, [recording, target, chainId, dispatch]);

  const stepsAt = usePlaceSteps();
  useRecall(async (place) => {
    try {
      const taken = await stepsAt(place);
      const at = current ? steps.findIndex(({ id }) => id === current) + 1 : steps.length;
      dispatch(inserted({ chainId, at, steps: taken }));
      say(`${place.name}: ${taken.length === 1 ? 'one step' : `${taken.length} steps`} put in. Ctrl z takes them out.`);
    } catch (error) {
      sayError(`${place.name} was not put in`, error);
    }
  });

  const add = useLatest((kind: string, settings: Record<string, unknown> = {}) => {
    const at = current ? steps.findIndex(({ id }) => id === current) + 1 : steps.length;
    const action = added({
      chainId,
      kind,
      at,
      settings: { ...defaultsOf(settingsOf({ kind, settings })), ...settings },
    });
    dispatch(action);
    setCurrent(action.payload.id);
    setOpened(action.payload.id);
  });
  const drop = ({ active, over }: DragEndEvent) => {
    if (over) dispatch(moved({ chainId, id: String(active.id), to: steps.findIndex(({ id }) => id === over.id) }));
  };
  const keep = useLatest(async (note: string, author: string) => {
    const revision = await onKeep(note, author);
    if (!revision) return;
    keepForm.close();
    say(`Kept as revision ${revision}.`);
  });
  const take = useLatest(async (revision: number) => {
    const { data, error } = await askRevision({ id: chainId, revision });
    if (data) dispatch(replaced({ chainId, steps: data.steps }));
    else sayError('The revision was not taken', error);
  });

  const [approveRevision] = api.useApproveChainMutation();
  const [withdrawApproval] = api.useWithdrawChainApprovalMutation();
  const approve = useLatest(async (revision: number, sentence: string | null) => {
    const { error } = await (sentence === null
      ? withdrawApproval({ id: chainId, revision })
      : approveRevision({ id: chainId, revision, sentence }));
    if (error) sayError(`Revision ${revision} stays as it was`, error);
  });
  const named = useMemo(() => steps.map((step) => ({ id: step.id, name: nameOfStep(step) })), [steps]);
  const stepsIn = useLatest((revision: number) => {
    const count = chain.revisions.find((one) => one.revision === revision)?.stepCount ?? 0;
    return `${count} ${count === 1 ? 'step' : 'steps'}`;
  });
  const adviceKey = ({ code, step }: OrderAdvice) => `${code} ${steps[step]?.id}`;
  const before: (LedgerFigures | undefined)[] = [ledger.source];
  for (const { id } of steps) before.push(ledger.rows[id]?.figures ?? before[before.length - 1]);
  const stale = Object.values(ledger.rows).some(({ fresh }) => !fresh);
  const advised = orderAdvice(steps, target, before);
  const advice = advised.filter((one) => !watched.dismissed.includes(adviceKey(one)));
  const dismiss = useLatest((one: OrderAdvice) => {
    dispatch(exampleSlice.actions.dismissed({ chainId, advice: adviceKey(one) }));
  });
  const fix = useLatest(({ fix: mend }: OrderAdvice) => {
    if (mend.act === 'move') dispatch(moved({ chainId, id: steps[mend.from].id, to: mend.to }));
    else if (mend.act === 'remove') dispatch(removed({ chainId, id: steps[mend.at].id }));
    else {
      const { id, settings } = steps[mend.at];
      dispatch(editedStep({ chainId, id, part: { settings: { ...settings, ...mend.settings } }, touched: null }));
    }
  });
  const toggle = useLatest((stepId: string) => setOpened(stepId === opened ? null : stepId));
  const last = before[before.length - 1];
  const told = useMemo(() => (last && target ? forecast(target, last) : undefined), [last, target]);
  // while a point is dragged, the picture comes first
  const shownActs = useDeferredValue(edited);
  const ids = useSameList(steps.map(({ id }) => id));
  return (
    <Page
      title={chain.name}
      about={
        <>
          {changed
            ? `draft after revision ${edited.basedOn}${chain.draft?.author ? `, by ${chain.draft.author}` : ''}`
            : `revision ${chain.revision}`}
          {chain.notes && ` \u00b7 ${chain.notes}`}
          <OthersHere people={others} drafts={chain.drafts} />
        </>
      }
      acts={
        <ChainActs
          chain={chain}
          edited={shownActs}
          changed={changed}
          mayKeep={!behind}
          onKeep={keepForm.open}
          isHeld={holding.chain !== null}
          onHold={holdChain}
          onPropose={recording?.measurement && target ? proposeSteps : undefined}
        />
      }
    >
      <ConflictNote what="chain" conflict={conflict} />
      {holding.chain && (
        <p className="advice">
          The chain is held: it is heard and measured as it was, whatever is changed.
          <Button size="compact-xs" variant="default" ml={12} onClick={holdChain}>
            Let it go
          </Button>
        </p>
      )}
      <FrozenNote
        chainId={chainId}
        nameOf={(stepId) => {
          const step = steps.find(({ id }) => id === stepId);
          return step && nameOfStep(step);
        }}
      />
      {behind && <TwoChanges chain={chain} edited={edited} />}
      {steps.length === 0 && (
        <p className="empty">No step yet. Type below what you hear, such as “hiss” or “uneven”, and choose a step.</p>
      )}
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={drop}
        accessibility={{ announcements: moveWords(steps), screenReaderInstructions: MOVE_HELP }}
      >
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          <div className={ledgerClasses.heads}>
            <span className={ledgerClasses.first}>Step</span>
            <span className={ledgerClasses.what}>What it does</span>
            <FigureHeads />
          </div>
          <div className={ledgerClasses.line}>
            <span className={`${ledgerClasses.first} ${ledgerClasses.example}`}>
              <ActionIcon
                size="sm"
                aria-label={listening.playing ? 'Pause the example' : 'Play the example through the chain'}
                disabled={!recording}
                onClick={listening.toggle}
              >
                {listening.playing ? <IconPlayerPauseFilled size={14} /> : <IconPlayerPlayFilled size={14} />}
              </ActionIcon>
              <ExamplePicker example={example} />
            </span>
            <span className={ledgerClasses.what}>
              <MeasuredOf example={example} ledger={ledger} />
            </span>
            <FigureCells figures={ledger.source} />
          </div>
          <ol className={classes.ledger}>
            {steps.map((step, i) => (
              <LedgerRow
                key={step.id}
                chainId={chainId}
                step={step}
                place={i + 1}
                current={step.id === current}
                opened={step.id === opened}
                advice={advice.some((one) => one.step === i) ? advice.filter((one) => one.step === i) : NO_ADVICE}
                figures={ledger.rows[step.id]?.figures}
                lengthSeconds={ledger.rows[step.id]?.lengthSeconds}
                fresh={ledger.rows[step.id]?.fresh ?? false}
                before={before[i]}
                findings={ledger.findings[step.id]}
                picture={step.id === opened ? ledger.picture : null}
                onFix={fix}
                onDismiss={dismiss}
                onCurrent={setCurrent}
                onToggle={toggle}
                held={holding.steps[step.id] !== undefined}
                onHold={hold}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <TargetRows example={example} told={told} last={last} stale={stale} />
      {watched.recordingIds.slice(1).map((id) => (
        <Beside
          key={id}
          recordingId={id}
          steps={sounding}
          target={target}
          held={watched.held}
          onChoose={() => example.change({ recordingIds: [id, ...watched.recordingIds.filter((one) => one !== id)] })}
        />
      ))}
      {told && !stale && (
        <TargetAdvice
          told={told}
          steps={steps}
          onEdit={(id, settings) => dispatch(editedStep({ chainId, id, part: { settings }, touched: null }))}
          onAdd={(kind, at, settings) =>
            dispatch(
              added({ chainId, kind, at, settings: { ...defaultsOf(settingsOf({ kind, settings })), ...settings } }),
            )
          }
        />
      )}
      <AddStep inputRef={addInput} shortcut="a" onAdd={add} />
      {compared !== null && (
        <Comparison
          chainId={chainId}
          revision={compared}
          steps={steps}
          last={last}
          recording={recording}
          onClose={() => setCompared(null)}
        />
      )}
      <History revisions={chain.revisions} sizeOf={stepsIn} onTake={take} onCompare={setCompared} onApprove={approve} />
      <NoteThread about={{ kind: 'chain', id: chainId }} steps={named} />
      <KeepForm
        opened={keeping && !conflict}
        number={chain.revision + 1}
        example="Less noise reduction for the new booth"
        onClose={keepForm.close}
        onKeep={keep}
      />
    </Page>
  );
}

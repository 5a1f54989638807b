import { Button } from '@mantine/core';
import { useDisclosure, useThrottledValue } from '@mantine/hooks';
import type { ChainSummary, RunningOrder } from '@tonos/contract';
import { sentenceOf } from '@tonos/core';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { ConflictNote } from '../../editing/ConflictNote.tsx';
import { History } from '../../editing/History.tsx';
import { KeepForm } from '../../editing/KeepForm.tsx';
import { UndoRedo } from '../../editing/UndoRedo.tsx';
import { type Conflict, sameContent } from '../../editing/use-draft.ts';
import { For } from '../../people/For.tsx';
import { OthersHere } from '../../people/OthersHere.tsx';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { useLatest } from '../../ui/use-latest.ts';
import { GroupTable } from './GroupTable.tsx';
import { type Fill, secondsOf } from './lay-out-order.ts';
import { OrderDrawing } from './OrderDrawing.tsx';
import { OrderMenu } from './OrderMenu.tsx';
import classes from './OrderPage.module.css';
import { orderSlice } from './order-slice.ts';
import { type FoundIn, HEAR_ALL, levelsFrom } from './order-sound.ts';
import { PartForm } from './PartForm.tsx';
import { PartTable } from './PartTable.tsx';
import { RunOrderForm } from './RunOrderForm.tsx';
import { ShownWith } from './ShownWith.tsx';
import { useOrderActs } from './use-order-acts.ts';
import { type OrderEditor, useOrderEditor } from './use-order-editor.ts';
import { useOrderKeys } from './use-order-keys.ts';
import { useOrderLedger } from './use-order-ledger.ts';
import { useOrderSound } from './use-order-sound.ts';
import { useShownOrder } from './use-shown-order.ts';

const NO_CHAINS: ChainSummary[] = [];
const HEARD_EVERY_MS = 80;
const NOTHING_FOUND: FoundIn = { parts: {}, groups: {}, whole: {} };

const { insisted } = orderSlice.actions;

/** A running order: a programme as a table that draws itself. */
export function OrderPage() {
  const { id = '' } = useParams();
  const { data: running, error, refetch } = api.useOrderQuery(id);
  const editor = useOrderEditor(running);
  // what was there stays while the server does not answer
  if (error && !running)
    return (
      <Page title="Running order">
        <Trouble error={error} retry={refetch} />
      </Page>
    );
  if (!running || !editor.edited) return <Page title={'\u00a0'}>{null}</Page>;
  return <OrderSheet running={running} editor={{ ...editor, edited: editor.edited }} />;
}

interface OrderSheetProps {
  running: RunningOrder;
  editor: OrderEditor & Required<Pick<OrderEditor, 'edited'>>;
}

function OrderSheet({ running, editor: { edited, conflict, keep: onKeep } }: OrderSheetProps) {
  const { id: orderId, titleId } = running;
  const order = edited.present;
  const { data: title } = api.useTitleQuery(titleId);
  const { data: chains } = api.useChainsQuery();
  const chainNames = useMemo(() => (chains ?? []).map(({ name }) => name), [chains]);
  const [askRevision] = api.useLazyOrderRevisionQuery();
  const [chosen, setChosen] = useState<string | null>(null);
  const [looked, setLooked] = useState<Fill>({});
  const [keeping, keepForm] = useDisclosure(false);
  const [starting, runForm] = useDisclosure(false);
  const shown = useShownOrder(titleId, order, looked);
  const { recordings, byId, fill, resolved, faults, drawn } = shown;
  const [heard, setHeard] = useState(HEAR_ALL);
  const { ledger, progress } = useOrderLedger(orderId, order, fill, byId, resolved !== undefined);
  const levels = useMemo(() => levelsFrom(order, ledger.of, ledger.ledger), [order, ledger.of, ledger.ledger]);
  const laidOut = useMemo(() => ({ order, resolved: drawn, fill }), [order, drawn, fill]);
  const sound = useOrderSound({
    orderId,
    // what is dragged is drawn at once and heard a little later
    ...useThrottledValue(laidOut, HEARD_EVERY_MS),
    recordings: byId,
    heard,
    found: ledger.ledger?.found ?? NOTHING_FOUND,
    levels,
  });
  const { data: targets = [] } = api.useTargetsQuery();
  const window = targets
    .find(({ id }) => id === title?.targetId)
    ?.limits.find(({ measure }) => measure === 'integratedLufs');
  const isChanged = !sameContent(order, running.order);
  const part = order.parts.find(({ id }) => id === chosen);

  const dispatch = useAppDispatch();
  const acts = useOrderActs(orderId, order, chosen, setChosen);
  const keep = useLatest(async (note: string, author: string) => {
    const revision = await onKeep(note, author);
    if (!revision) return;
    keepForm.close();
    say(`Kept as revision ${revision}.`);
  });
  const take = useLatest(async (revision: number) => {
    const { data, error } = await askRevision({ id: orderId, revision });
    if (data) acts.put(data.order, null);
    else sayError('The revision was not taken', error);
  });
  const [approveRevision] = api.useApproveOrderMutation();
  const [withdrawApproval] = api.useWithdrawOrderApprovalMutation();
  const approve = useLatest(async (revision: number, sentence: string | null) => {
    const { error } = await (sentence === null
      ? withdrawApproval({ id: orderId, revision })
      : approveRevision({ id: orderId, revision, sentence }));
    if (error) sayError(`Revision ${revision} stays as it was`, error);
  });
  const partsIn = useLatest((revision: number) => {
    const count = running.revisions.find((one) => one.revision === revision)?.partCount ?? 0;
    return `${count} ${count === 1 ? 'part' : 'parts'}`;
  });
  /** Somebody kept a revision meanwhile: it is settled first what counts. */
  const behind: Conflict | undefined =
    isChanged && edited.basedOn < running.revision
      ? {
          author: running.revisions[0].author,
          takeTheirs: () => {
            acts.put(running.order, null);
            dispatch(insisted({ orderId, basedOn: running.revision, version: running.version }));
          },
          keepMine: () => dispatch(insisted({ orderId, basedOn: running.revision, version: running.version })),
        }
      : undefined;
  const canKeep = isChanged && !faults.length && !behind;
  const canRun = running.order.parts.length > 0;
  useOrderKeys({
    ids: order.parts.map(({ id }) => id),
    chosen,
    choose: setChosen,
    ...acts,
    keep: () => canKeep && keepForm.open(),
    run: () => canRun && runForm.open(),
    listen: () => {
      const from = drawn?.parts.find((placed) => placed.part.id === chosen)?.start ?? 0;
      sound.listenFrom(secondsOf(from));
    },
  });
  return (
    <Page
      title={order.name}
      about={
        <>
          {title && <Link to={`/titles/${titleId}`}>{title.name}</Link>}
          {' \u00b7 running order, '}
          {isChanged
            ? `draft after revision ${edited.basedOn}${running.draft?.author ? `, by ${running.draft.author}` : ''}`
            : `revision ${running.revision}`}
          <OthersHere people={[]} drafts={running.drafts} />
        </>
      }
      acts={
        <>
          <UndoRedo edited={edited} onUndo={acts.undo} onRedo={acts.redo} />
          <OrderMenu
            running={running}
            order={order}
            onRename={(name) => {
              if (name && name !== order.name) acts.put({ ...order, name }, null);
            }}
          />
          <For least="engineer">
            <Button variant={isChanged ? 'filled' : 'default'} disabled={!canKeep} onClick={keepForm.open}>
              Keep as revision {running.revision + 1}
            </Button>
            <Button variant={isChanged ? 'default' : 'filled'} disabled={!canRun} onClick={runForm.open}>
              Run revision {running.revision}
            </Button>
          </For>
        </>
      }
    >
      <ConflictNote what="running order" conflict={conflict ?? behind} />
      {order.parts.length === 0 ? (
        <p className="empty">
          No part yet. Add one: what sounds, how it begins with respect to another, how long it lasts. The drawing
          follows.
        </p>
      ) : (
        <>
          <ShownWith places={shown.places} recordings={recordings} fill={fill} onChange={setLooked} />
          {faults.length > 0 && (
            <div role="alert" className={classes.faults}>
              {faults.map((fault) => (
                <p key={`${fault.where} ${fault.field}`} className="verdict-over">
                  {sentenceOf(fault)}
                </p>
              ))}
            </div>
          )}
          {drawn && (
            <OrderDrawing
              order={order}
              resolved={drawn}
              layOut={shown.layOut}
              waveOf={shown.waveOf}
              sound={sound}
              ledger={ledger}
              progress={progress}
              heard={heard}
              window={window}
              onHear={setHeard}
              chosen={chosen}
              onChoose={setChosen}
              onShift={acts.shift}
            />
          )}
          <PartTable
            order={order}
            resolved={resolved}
            recordings={byId}
            fill={fill}
            ledger={ledger}
            chosen={chosen}
            onChoose={setChosen}
            onChange={acts.changePart}
          />
        </>
      )}
      <Button size="compact-sm" variant="default" mt={10} onClick={acts.add}>
        Add a part
      </Button>
      {part && (
        <PartForm
          order={order}
          part={part}
          recordings={recordings}
          chainNames={chainNames}
          marksOf={shown.marksOf}
          onChange={acts.changeChosen}
          onMove={acts.move}
          onRemove={acts.remove}
        />
      )}
      <GroupTable
        groups={order.groups}
        under={order.under}
        chain={order.chain}
        channels={order.channels}
        used={order.parts.map(({ group }) => group).join('\n')}
        chains={chains ?? NO_CHAINS}
        ledger={ledger}
        onChange={acts.changeGroups}
      />
      <History revisions={running.revisions} sizeOf={partsIn} onTake={take} onApprove={approve} />
      <KeepForm
        opened={keeping && !conflict}
        number={running.revision + 1}
        example="A shorter break"
        onClose={keepForm.close}
        onKeep={keep}
      />
      {title && (
        <RunOrderForm
          opened={starting}
          onClose={runForm.close}
          title={title}
          running={running}
          recordings={recordings}
        />
      )}
    </Page>
  );
}

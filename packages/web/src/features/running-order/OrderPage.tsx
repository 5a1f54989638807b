import { ActionIcon, Button, Select, Tooltip } from '@mantine/core';
import { useDisclosure, useThrottledValue } from '@mantine/hooks';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import type { Recording, RunningOrder } from '@tonos/contract';
import { type OrderFile, type OrderPart, placesOf, type ResolvedOrder, sentenceOf } from '@tonos/core';
import { memo, useCallback, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { ConflictNote } from '../../editing/ConflictNote.tsx';
import { History } from '../../editing/History.tsx';
import { KeepForm } from '../../editing/KeepForm.tsx';
import { sameContent } from '../../editing/use-draft.ts';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { useLatest } from '../../ui/use-latest.ts';
import { useSame } from '../../ui/use-same.ts';
import { movedPart, shiftedBegin, withNewPart, withoutPart, withPart } from './edit-order.ts';
import { GroupTable } from './GroupTable.tsx';
import { type Fill, layOutOrder, recordingIdOf, secondsOf, withUnmoved } from './lay-out-order.ts';
import { OrderDrawing } from './OrderDrawing.tsx';
import { OrderMenu } from './OrderMenu.tsx';
import classes from './OrderPage.module.css';
import { orderSlice } from './order-slice.ts';
import { type FoundIn, HEAR_ALL, levelsFrom } from './order-sound.ts';
import { PartForm } from './PartForm.tsx';
import { PartTable } from './PartTable.tsx';
import { RunOrderForm } from './RunOrderForm.tsx';
import { type OrderEditor, useOrderEditor } from './use-order-editor.ts';
import { useOrderKeys } from './use-order-keys.ts';
import { useOrderLedger } from './use-order-ledger.ts';
import { useOrderSound } from './use-order-sound.ts';

const { edited: changed, undone, redone } = orderSlice.actions;
const NO_RECORDINGS: Recording[] = [];
const HEARD_EVERY_MS = 80;
const NOTHING_FOUND: FoundIn = { parts: {}, groups: {}, whole: {} };

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
  const dispatch = useAppDispatch();
  const { id: orderId, titleId } = running;
  const order = edited.present;
  const { data: title } = api.useTitleQuery(titleId);
  const { data: own = NO_RECORDINGS } = api.useRecordingsQuery(titleId);
  const { data: shelf = NO_RECORDINGS } = api.useShelfQuery();
  const recordings = useMemo(
    () => [...own, ...shelf.filter(({ id }) => !own.some((one) => one.id === id))],
    [own, shelf],
  );
  const { data: chains } = api.useChainsQuery();
  const chainNames = useMemo(() => (chains ?? []).map(({ name }) => name), [chains]);
  const [askRevision] = api.useLazyOrderRevisionQuery();
  const [chosen, setChosen] = useState<string | null>(null);
  const [looked, setLooked] = useState<Fill>({});
  const [keeping, keepForm] = useDisclosure(false);
  const [starting, runForm] = useDisclosure(false);
  const byId = useMemo(() => new Map(recordings.map((recording) => [recording.id, recording])), [recordings]);
  const fill = useSame(useMemo(() => shownFill(order, recordings, looked), [order, recordings, looked]));
  const places = useSame(useMemo(() => placesOf(order), [order]));
  // what can't be put together leaves the last drawing that could
  const lastResolved = useRef<ResolvedOrder>(undefined);
  const { resolved, faults } = useMemo(() => {
    const laidOut = layOutOrder(order, byId, fill);
    if (laidOut.resolved) lastResolved.current = withUnmoved(lastResolved.current, laidOut.resolved);
    return { resolved: laidOut.resolved && lastResolved.current, faults: laidOut.faults };
  }, [order, byId, fill]);
  const drawn = resolved ?? lastResolved.current;
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

  const put = useLatest((next: OrderFile, touched: string | null) =>
    dispatch(changed({ orderId, order: next, touched })),
  );
  const changeGroups = useLatest((make: (order: OrderFile) => OrderFile, touched: string | null) =>
    put(make(order), touched),
  );
  const changePart = useLatest((id: string, change: Partial<OrderPart>, touched: string) => {
    put(withPart(order, id, change), `${id}/${touched}`);
  });
  const changeChosen = useLatest(
    (change: Partial<OrderPart>, touched: string) => part && changePart(part.id, change, touched),
  );
  const shift = useLatest((id: string, by: number) => {
    const begins = shiftedBegin(order.parts.find((one) => one.id === id)!, by);
    if (begins) changePart(id, { begins }, 'begins');
  });
  const add = useLatest(() => {
    const made = withNewPart(order, chosen);
    put(made.order, null);
    setChosen(made.id);
  });
  const remove = useLatest(() => {
    if (!part) return;
    const at = order.parts.indexOf(part);
    put(withoutPart(order, part.id), null);
    setChosen((order.parts[at + 1] ?? order.parts[at - 1])?.id ?? null);
  });
  const move = useLatest((by: number) => {
    if (part) put(movedPart(order, part.id, by), null);
  });
  const keep = useLatest(async (note: string, author: string) => {
    const revision = await onKeep(note, author);
    if (!revision) return;
    keepForm.close();
    say(`Kept as revision ${revision}.`);
  });
  const take = useLatest(async (revision: number) => {
    const { data, error } = await askRevision({ id: orderId, revision });
    if (data) put(data.order, null);
    else sayError('The revision was not taken', error);
  });
  const partsIn = useLatest((revision: number) => {
    const count = running.revisions.find((one) => one.revision === revision)?.partCount ?? 0;
    return `${count} ${count === 1 ? 'part' : 'parts'}`;
  });
  const canKeep = isChanged && !faults.length;
  const canRun = running.order.parts.length > 0;
  const undo = () => dispatch(undone({ orderId }));
  const redo = () => dispatch(redone({ orderId }));
  useOrderKeys({
    ids: order.parts.map(({ id }) => id),
    chosen,
    choose: setChosen,
    add,
    remove,
    move,
    undo,
    redo,
    keep: () => canKeep && keepForm.open(),
    run: () => canRun && runForm.open(),
    listen: () => {
      const from = drawn?.parts.find((placed) => placed.part.id === chosen)?.start ?? 0;
      sound.listenFrom(secondsOf(from));
    },
  });
  const layOut = useLatest((dragged: OrderFile) => layOutOrder(dragged, byId, fill).resolved);
  const waveOf = (one: OrderPart) => {
    const id = recordingIdOf(one, fill);
    return id !== undefined && byId.get(id)?.measurement ? id : undefined;
  };
  const marksOf = useCallback(
    (id: string) => {
      const host = order.parts.find((one) => one.id === id);
      const marks = host && byId.get(recordingIdOf(host, fill) ?? '')?.marks;
      return [...new Set((marks ?? []).map(({ name }) => name))];
    },
    [order, byId, fill],
  );
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
        </>
      }
      acts={
        <>
          <Tooltip label="Undo (Ctrl z)">
            <ActionIcon size="lg" variant="default" aria-label="Undo" disabled={!edited.past.length} onClick={undo}>
              <IconArrowBackUp size={18} />
            </ActionIcon>
          </Tooltip>
          <Tooltip label="Redo (Ctrl Shift z)">
            <ActionIcon size="lg" variant="default" aria-label="Redo" disabled={!edited.future.length} onClick={redo}>
              <IconArrowForwardUp size={18} />
            </ActionIcon>
          </Tooltip>
          <OrderMenu
            running={running}
            order={order}
            onRename={(name) => {
              if (name && name !== order.name) put({ ...order, name }, null);
            }}
          />
          <Button variant={isChanged ? 'filled' : 'default'} disabled={!canKeep} onClick={keepForm.open}>
            Keep as revision {running.revision + 1}
          </Button>
          <Button variant={isChanged ? 'default' : 'filled'} disabled={!canRun} onClick={runForm.open}>
            Run revision {running.revision}
          </Button>
        </>
      }
    >
      <ConflictNote what="running order" conflict={conflict} />
      {order.parts.length === 0 ? (
        <p className="empty">
          No part yet. Add one: what sounds, how it begins with respect to another, how long it lasts. The drawing
          follows.
        </p>
      ) : (
        <>
          <ShownWith places={places} recordings={recordings} fill={fill} onChange={setLooked} />
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
              layOut={layOut}
              waveOf={waveOf}
              sound={sound}
              ledger={ledger}
              progress={progress}
              heard={heard}
              window={window}
              onHear={setHeard}
              chosen={chosen}
              onChoose={setChosen}
              onShift={shift}
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
            onChange={changePart}
          />
        </>
      )}
      <Button size="compact-sm" variant="default" mt={10} onClick={add}>
        Add a part
      </Button>
      {part && (
        <PartForm
          order={order}
          part={part}
          recordings={recordings}
          chainNames={chainNames}
          marksOf={marksOf}
          onChange={changeChosen}
          onMove={move}
          onRemove={remove}
        />
      )}
      <GroupTable
        groups={order.groups}
        under={order.under}
        chain={order.chain}
        channels={order.channels}
        used={order.parts.map(({ group }) => group).join('\n')}
        chainNames={chainNames}
        ledger={ledger}
        onChange={changeGroups}
      />
      <History revisions={running.revisions} sizeOf={partsIn} onTake={take} />
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

/** The places filled as they were chosen to be looked at, the others by what has the marks that are wanted, or by the first that there is. */
function shownFill(order: OrderFile, recordings: readonly Recording[], looked: Fill): Fill {
  const fixed = new Set(order.parts.flatMap(({ source }) => ('recording' in source ? [source.recording] : [])));
  const free = recordings.filter(({ id, status, kind }) => status === 'ready' && kind === 'voice' && !fixed.has(id));
  return Object.fromEntries(
    placesOf(order).flatMap((place) => {
      if (looked[place]) return [[place, looked[place]]];
      const hosts = order.parts.filter(({ source }) => 'place' in source && source.place === place).map(({ id }) => id);
      const wanted = order.parts.flatMap(({ begins }) =>
        'into' in begins && hosts.includes(begins.into) ? [begins.mark] : [],
      );
      if (place !== 'body' && !wanted.length) return [];
      const has = ({ marks }: Recording) => wanted.every((mark) => marks.some(({ name }) => name === mark));
      const shown = free.find(has);
      return shown ? [[place, shown.id]] : [];
    }),
  );
}

interface ShownWithProps {
  places: readonly string[];
  recordings: readonly Recording[];
  fill: Fill;
  onChange(fill: Fill): void;
}

/** With what the open places are filled while the pattern is looked at. */
const ShownWith = memo(function ShownWith({ places, recordings, fill, onChange }: ShownWithProps) {
  if (!places.length) return null;
  return (
    <div className={classes.shown}>
      <span className="quiet small">Shown with</span>
      {places.map((place) => (
        <Select
          key={place}
          size="xs"
          aria-label={`What fills ${place} here`}
          placeholder={`${place}: a minute of nothing`}
          searchable
          data={recordings.map(({ id, name, givenName }) => ({ value: id, label: `${place}: ${givenName || name}` }))}
          value={fill[place] ?? null}
          onChange={(value) => value && onChange({ ...fill, [place]: value })}
        />
      ))}
    </div>
  );
});

import { Button, MultiSelect, NumberInput, Select, TextInput, VisuallyHidden } from '@mantine/core';
import type { ChainSummary } from '@tonos/contract';
import { newestNamed, type OrderFile } from '@tonos/core';
import { Fragment, memo, useState } from 'react';
import { Link } from 'react-router';
import type { ChainAccount } from '../../steps/StepList.tsx';
import { ChainInPlace } from './ChainInPlace.tsx';
import { withGroup, withNewGroup, withoutGroup } from './edit-order.ts';
import classes from './GroupTable.module.css';
import { LevelCells, LevelHeads } from './LevelCells.tsx';
import type { OrderLedger } from './use-order-ledger.ts';

interface GroupTableProps {
  groups: OrderFile['groups'];
  under: OrderFile['under'];
  chain: OrderFile['chain'];
  channels: OrderFile['channels'];
  /** The groups that parts are in, a line each. */
  used: string;
  chains: readonly ChainSummary[];
  /** What each group measures behind its chain, and the whole behind its own. */
  ledger: OrderLedger;
  onChange(make: (order: OrderFile) => OrderFile, touched: string | null): void;
}

/** Of the table: a name, a chain, a gain, how it gives way, levels and acts. */
const COLUMNS = 12;
/** No group is called so. */
const WHOLE = '';

const WAY = { byDb: 12, leadSeconds: 0.3, holdSeconds: 0.8, releaseSeconds: 1.5 };

/** The groups: the chain that their parts go through together, their gain, and under whom they give way. */
export const GroupTable = memo(function GroupTable(props: GroupTableProps) {
  const { groups, under, chain: wholeChain, channels, used, chains, ledger, onChange } = props;
  const { ledger: told, fresh } = ledger;
  const [opened, setOpened] = useState<string | null>(null);
  const wayOf = (id: string) => under.find(({ group }) => group === id);
  const setWay = (id: string, change: Partial<OrderFile['under'][number]>) => {
    const way = { group: id, of: [], ...WAY, ...wayOf(id), ...change };
    const rest = under.filter(({ group }) => group !== id);
    onChange((order) => ({ ...order, under: way.of.length ? [...rest, way] : rest }), `${id}/way`);
  };
  const changeGroup = (id: string, change: Partial<OrderFile['groups'][number]>, touched: string | null) =>
    onChange((order) => withGroup(order, id, change), touched);
  return (
    <section aria-label="Groups" className={classes.groups}>
      <h2>Groups</h2>
      <div className="wide">
        <table className="ledger">
          <thead>
            <tr>
              <th>Group</th>
              <th>Chain</th>
              <th className="number">Gain dB</th>
              <th>Gives way under speech in</th>
              <th className="number">by dB</th>
              <th className="number">Lead s</th>
              <th className="number">Hold s</th>
              <th className="number">Back in s</th>
              <LevelHeads />
              <th>
                <VisuallyHidden>Acts</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {groups.map(({ id, name, chain, gainDb }) => {
              const way = wayOf(id);
              const called = name || id;
              const figure = (key: keyof typeof WAY, label: string, max: number) => (
                <td className="number">
                  {way && (
                    <Figure
                      label={`${label} of ${called}`}
                      value={way[key]}
                      min={0}
                      max={max}
                      set={(value) => setWay(id, { [key]: value })}
                    />
                  )}
                </td>
              );
              return (
                <Fragment key={id}>
                  <tr>
                    <td>
                      <TextInput
                        aria-label="Name of the group"
                        variant="unstyled"
                        styles={{ input: { fontWeight: 600 } }}
                        maxLength={200}
                        value={name}
                        placeholder={id}
                        onChange={(event) => changeGroup(id, { name: event.currentTarget.value }, `${id}/name`)}
                      />
                    </td>
                    <td>
                      <ChainSelect
                        label={`Chain of ${called}`}
                        chain={chain}
                        chains={chains}
                        set={(next) => changeGroup(id, { chain: next }, null)}
                        isOpened={opened === id}
                        onOpen={() => setOpened(opened === id ? null : id)}
                      />
                    </td>
                    <td className="number">
                      <Figure
                        label={`Gain of ${called}`}
                        value={gainDb}
                        min={-60}
                        max={24}
                        set={(value) => changeGroup(id, { gainDb: value }, `${id}/gain`)}
                      />
                    </td>
                    <td>
                      <MultiSelect
                        aria-label={`${called} gives way to`}
                        variant="unstyled"
                        placeholder={way ? undefined : 'nobody'}
                        data={groups
                          .filter((one) => one.id !== id)
                          .map((one) => ({ value: one.id, label: one.name || one.id }))}
                        value={way?.of ?? []}
                        onChange={(of) => setWay(id, { of })}
                      />
                    </td>
                    {figure('byDb', 'Fall', 60)}
                    {figure('leadSeconds', 'Lead', 30)}
                    {figure('holdSeconds', 'Hold', 60)}
                    {figure('releaseSeconds', 'Return', 60)}
                    <LevelCells figures={told?.groups.find((one) => one.id === id)?.figures} fresh={fresh} />
                    <td className={classes.act}>
                      <Button
                        size="compact-xs"
                        variant="subtle"
                        disabled={used.split('\n').includes(id)}
                        onClick={() => onChange((order) => withoutGroup(order, id), null)}
                      >
                        Remove
                      </Button>
                    </td>
                  </tr>
                  {opened === id && (
                    <tr>
                      <td colSpan={COLUMNS}>
                        <ChainInPlace
                          called={called}
                          chain={chain}
                          chains={chains}
                          account={accountOf(ledger, id)}
                          set={(next, touched) => changeGroup(id, { chain: next }, touched && `${id}/chain/${touched}`)}
                        />
                      </td>
                    </tr>
                  )}
                </Fragment>
              );
            })}
            <tr>
              <td className="name">The whole</td>
              <td>
                <ChainSelect
                  label="Chain of the whole"
                  chain={wholeChain}
                  chains={chains}
                  set={(chain) => onChange((order) => ({ ...order, chain }), null)}
                  isOpened={opened === WHOLE}
                  onOpen={() => setOpened(opened === WHOLE ? null : WHOLE)}
                />
              </td>
              <td colSpan={6}>
                <Select
                  w={170}
                  aria-label="Channels of the programme"
                  variant="unstyled"
                  allowDeselect={false}
                  data={[
                    { value: '1', label: 'one channel' },
                    { value: '2', label: 'two channels' },
                  ]}
                  value={String(channels)}
                  onChange={(value) => onChange((order) => ({ ...order, channels: value === '1' ? 1 : 2 }), null)}
                />
              </td>
              <LevelCells figures={told?.whole.after} fresh={fresh} />
              <td />
            </tr>
            {opened === WHOLE && (
              <tr>
                <td colSpan={COLUMNS}>
                  <ChainInPlace
                    called="the whole"
                    chain={wholeChain}
                    chains={chains}
                    account={accountOf(ledger, WHOLE)}
                    set={(chain, touched) => onChange((order) => ({ ...order, chain }), touched && `whole/${touched}`)}
                  />
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
      <Button size="compact-sm" variant="default" mt={10} onClick={() => onChange(withNewGroup, null)}>
        Add a group
      </Button>
    </section>
  );
});

/** What the chain of a group, or of the whole, was measured to do. */
function accountOf({ ledger, fresh }: OrderLedger, id: string): ChainAccount | undefined {
  const own = id === WHOLE ? ledger?.whole : ledger?.groups.find((group) => group.id === id);
  if (!ledger || !own) return undefined;
  return {
    before: own.before,
    behind: new Map(own.steps.map((step) => [step.id, step.figures])),
    found: (id === WHOLE ? ledger.found.whole : ledger.found.groups[id]) ?? {},
    fresh,
  };
}

interface ChainSelectProps {
  label: string;
  chain: OrderFile['chain'];
  chains: readonly ChainSummary[];
  set(chain: string | null): void;
  isOpened: boolean;
  onOpen(): void;
}

/** A chain by its name; one that came with a file keeps its own steps until another is chosen. */
function ChainSelect({ label, chain, chains, set, isOpened, onOpen }: ChainSelectProps) {
  const name = typeof chain === 'string' ? chain : (chain?.name ?? null);
  const kept = typeof chain === 'string' ? newestNamed(chains, chain) : undefined;
  return (
    <div className={classes.chain}>
      <Select
        aria-label={label}
        variant="unstyled"
        placeholder="none"
        clearable
        searchable
        data={[...new Set([...chains.map((one) => one.name), ...(name ? [name] : [])])]}
        value={name}
        onChange={set}
      />
      <Button
        size="compact-xs"
        variant="subtle"
        aria-expanded={isOpened}
        aria-label={`steps: ${label}`}
        onClick={onOpen}
      >
        steps
      </Button>
      {kept && (
        <Link to={`/chains/${kept.id}`} className="small" aria-label={`Open the chain ${kept.name}`}>
          open
        </Link>
      )}
    </div>
  );
}

interface FigureProps {
  label: string;
  value: number;
  min: number;
  max: number;
  set(value: number): void;
}

function Figure({ label, value, min, max, set }: FigureProps) {
  return (
    <NumberInput
      aria-label={label}
      variant="unstyled"
      size="xs"
      hideControls
      decimalScale={2}
      min={min}
      max={max}
      step={0.1}
      styles={{ input: { textAlign: 'right', fontFamily: 'var(--figure)', fontSize: 14, paddingRight: 0 } }}
      style={{ width: 56, display: 'inline-block' }}
      value={value}
      onChange={(typed) => typeof typed === 'number' && typed >= min && typed <= max && set(typed)}
    />
  );
}

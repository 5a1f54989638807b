import type * as z from 'zod';
import { type ChainFile, type ConfiguredStep, chainFaults, configureChain } from '../chain/chain-file.ts';
import { InvalidOrderError } from '../signal/errors.ts';
import { circleOf } from './begins-graph.ts';
import { type NamedChain, type OrderFile, type OrderPart, orderFile, partName } from './order-file.ts';

/** What is wrong with an order, as data: which part or group, which field. */
export interface OrderFault {
  /** `part "bed"`, `group "music"`, or undefined where it is the order's own. */
  where?: string;
  field: string;
  message: string;
}

/** How messages call a place in an order. */
export const ofPart = (part: Pick<OrderPart, 'id' | 'name'>): string => `part "${partName(part)}"`;

export const sentenceOf = ({ where, field, message }: OrderFault): string =>
  `${where ? `${where[0].toUpperCase()}${where.slice(1)}, ` : ''}${field}: ${message}`;

const invalid = (faults: readonly OrderFault[], code: string) =>
  new InvalidOrderError(code, faults.map(sentenceOf).join(' '), { faults });

/** @throws InvalidOrderError where there are faults, which names all */
export function refuse(faults: readonly OrderFault[], code = 'invalid-order'): void {
  if (faults.length) throw invalid(faults, code);
}

/** An order from what was written. @throws InvalidOrderError that names part and field of every fault */
export function readOrder(written: unknown): OrderFile {
  const parsed = orderFile.safeParse(written);
  if (parsed.success) return parsed.data;
  const rows = (written ?? {}) as Record<string, { id?: unknown }[] | undefined>;
  throw invalid(
    parsed.error.issues.map((issue) => faultOf(issue, rows)),
    'invalid-order',
  );
}

const ROWS = { parts: 'part', groups: 'group', under: 'giving way' } as const;

function faultOf(issue: z.core.$ZodIssue, rows: Record<string, { id?: unknown }[] | undefined>): OrderFault {
  const [list, index, ...rest] = issue.path;
  const extra = issue.code === 'unrecognized_keys' ? [issue.keys[0]] : [];
  const path = (parts: readonly PropertyKey[]) => parts.map(String).join('.');
  const message = extra.length ? 'there is no such field.' : `${issue.message.replace(/\.?$/, '')}.`;
  if (!(typeof list === 'string' && list in ROWS && typeof index === 'number'))
    return { field: path([...issue.path, ...extra]) || 'order', message };
  const id = rows[list]?.[index]?.id;
  const where = `${ROWS[list as keyof typeof ROWS]} ${typeof id === 'string' ? `"${id}"` : index + 1}`;
  return { where, field: path([...rest, ...extra]) || 'id', message };
}

/** A chain by its name; undefined where there is none. */
export type FindChain = (name: string) => ChainFile | undefined;

/** The order with its chains as files. @throws InvalidOrderError where one is not known */
export function withChains(order: OrderFile, find: FindChain): OrderFile {
  const faults: OrderFault[] = [];
  const known = (chain: NamedChain, where?: string): NamedChain => {
    if (typeof chain !== 'string') return chain;
    const found = find(chain);
    if (!found) faults.push({ where, field: 'chain', message: `there is no chain "${chain}".` });
    return found ?? chain;
  };
  const whole = {
    ...order,
    groups: order.groups.map((group) => ({ ...group, chain: known(group.chain, `group "${group.id}"`) })),
    parts: order.parts.map((part) => ({ ...part, chain: known(part.chain, ofPart(part)) })),
    chain: known(order.chain),
  };
  refuse(faults);
  return whole;
}

/** The steps of a chain of an order, whose chains are files. */
export const stepsOf = (chain: NamedChain): readonly ConfiguredStep[] =>
  chain && typeof chain !== 'string' ? configureChain(chain.steps) : [];

/** All that is wrong with an order whatever its recordings are. Chains that are only named are not looked at. */
export function orderFaults(order: OrderFile): OrderFault[] {
  const { groups, parts } = order;
  if (!parts.length) return [{ field: 'parts', message: 'there is no part: nothing would sound. Add one.' }];
  const faults = [
    ...sameIds(groups, 'group', ({ id }) => `group "${id}"`),
    ...sameIds(parts, 'part', ofPart),
    ...parts.flatMap((part) => faultsOfPart(part, order)),
    ...sameMarks(parts),
    ...groups.flatMap(({ id, chain }) => faultsOfGroupChain(chain, `group "${id}"`)),
    ...chainFaultsOf(order.chain),
    ...order.under.flatMap((under, i) => faultsOfGivingWay(under, i, groups)),
  ];
  if (faults.length) return faults;
  const circle = circleOf(parts);
  if (!circle) return [];
  const [first] = circle;
  const way = circle.map(({ part, field }) => `${partName(part)} (${field})`).join(' \u2192 ');
  return [
    {
      where: ofPart(first.part),
      field: first.field,
      message: `these hang on each other in a circle: ${way} \u2192 ${partName(first.part)}. Let one of them begin otherwise.`,
    },
  ];
}

function sameIds<Row extends { id: string }>(
  rows: readonly Row[],
  what: string,
  where: (row: Row) => string,
): OrderFault[] {
  return rows
    .filter(({ id }, i) => rows.findIndex((one) => one.id === id) < i)
    .map((row) => ({
      where: where(row),
      field: 'id',
      message: `another ${what} has this id. Give it one of its own.`,
    }));
}

function faultsOfPart(part: OrderPart, { groups, parts, channels }: OrderFile): OrderFault[] {
  const where = ofPart(part);
  const faults: OrderFault[] = [];
  const add = (field: string, message: string) => faults.push({ where, field, message });
  const checkPart = (field: string, id: string) => {
    if (id === part.id) add(field, 'it can\u2019t hang on itself.');
    else if (!parts.some((one) => one.id === id)) add(field, `there is no part "${id}".`);
  };
  if (!groups.some(({ id }) => id === part.group)) add('group', `there is no group "${part.group}".`);
  const { source, begins, lasts } = part;
  if ('recording' in source && source.endSeconds !== null && source.endSeconds <= source.startSeconds)
    add(
      'source.endSeconds',
      `the stretch ends at ${source.endSeconds} s, before it begins at ${source.startSeconds} s.`,
    );
  if ('after' in begins) {
    if (begins.after !== null) checkPart('begins.after', begins.after);
  } else if ('with' in begins) checkPart('begins.with', begins.with);
  else {
    checkPart('begins.into', begins.into);
    if (lasts) add('lasts', 'a part that another one is opened for lasts as long as it is: leave it null.');
    if (parts.find(({ id }) => id === begins.into)?.lasts)
      add('begins.into', `"${begins.into}" is cut or repeated to last: such a part can\u2019t be opened.`);
  }
  if (lasts)
    checkPart(
      `lasts.${'untilEndOf' in lasts ? 'untilEndOf' : 'untilBeginOf'}`,
      'untilEndOf' in lasts ? lasts.untilEndOf : lasts.untilBeginOf,
    );
  if (part.pan && channels !== 2) add('pan', `the programme has ${channels} channel: there is no side to place it at.`);
  return [...faults, ...chainFaultsOf(part.chain, where)];
}

/** At one mark a part is opened for one other: which of two would be first would hang on their rows. */
function sameMarks(parts: readonly OrderPart[]): OrderFault[] {
  const seen = new Map<string, OrderPart>();
  return parts.flatMap((part): OrderFault[] => {
    if (!('into' in part.begins)) return [];
    const { into, mark } = part.begins;
    const key = JSON.stringify([into, mark]);
    const other = seen.get(key);
    seen.set(key, other ?? part);
    if (!other) return [];
    const message = `"${partName(other)}" begins at the mark "${mark}" of "${into}" too. Give each a mark of its own.`;
    return [{ where: ofPart(part), field: 'begins.mark', message }];
  });
}

const chainFaultsOf = (chain: NamedChain, where?: string): OrderFault[] =>
  chain && typeof chain !== 'string'
    ? chainFaults(chain.steps).map(({ message }) => ({ where, field: 'chain', message }))
    : [];

/** What a group's chain did to time would move parts against other groups'. */
function faultsOfGroupChain(chain: NamedChain, where: string): OrderFault[] {
  const faults = chainFaultsOf(chain, where);
  if (faults.length) return faults;
  return stepsOf(chain)
    .filter(({ definition }) => definition.retime)
    .map(({ definition }) => ({
      where,
      field: 'chain',
      message: `the step "${definition.title}" moves moments, and the group would no longer be in step with the others. Put it into the chain of a part or of the whole.`,
    }));
}

function faultsOfGivingWay(
  under: OrderFile['under'][number],
  index: number,
  groups: OrderFile['groups'],
): OrderFault[] {
  const where = `giving way ${index + 1}`;
  const isKnown = (id: string) => groups.some((group) => group.id === id);
  const unknown = (field: string, id: string) => ({ where, field, message: `there is no group "${id}".` });
  return [
    ...(isKnown(under.group) ? [] : [unknown('group', under.group)]),
    ...under.of.filter((id) => !isKnown(id)).map((id) => unknown('of', id)),
    ...(under.of.includes(under.group)
      ? [{ where, field: 'of', message: 'a group can\u2019t give way to itself.' }]
      : []),
  ];
}

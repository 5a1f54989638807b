import type { NewOrderRun } from '@tonos/contract';
import {
  type ChainFile,
  chainNamesOf,
  newestNamed,
  type OrderFile,
  type OrderPart,
  orderFaults,
  partName,
  placesOf,
  refuseOrder,
  SHIPPED_CHAINS,
  type TargetFile,
  withChains,
} from '@tonos/core';
import { type EntityManager, IsNull } from 'typeorm';
import { ChainEntity, ChainRevisionEntity } from '../chains/chain-entity.ts';
import { checkThere, notFound } from '../http/problems.ts';
import { OrderEntity, OrderRevisionEntity } from '../orders/order-entity.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { unapprovedOf } from './approved.ts';
import { type Chapters, chaptersOf } from './chapters-of.ts';
import { standingTarget } from './ingredients.ts';
import { foretoldSound, type PartSound, soundsById } from './part-sounds.ts';

/** A programme of a run: what fills its places, and what each part sounds of. */
export interface Programme {
  fill: Record<string, string>;
  recordings: Map<string, PartSound>;
  /** What it is told by: the recording of its body. */
  body: PartSound;
}

export interface OrderIngredients {
  /** With its chains as files. */
  order: OrderFile;
  revision: number;
  target: TargetFile;
  titleName: string;
  /** What of it is not approved, where the title asks for that. */
  unapproved: string[];
  chapters: Chapters;
  programmes: Programme[];
}

/** Everything that a run of a running order is made of. Throws where something is not there, or can't be put together for any of it. */
export async function gatherOrder(manager: EntityManager, wanted: NewOrderRun): Promise<OrderIngredients> {
  const { file, ...kept } = await keptOrder(manager, wanted);
  return { ...(await filledOrder(manager, file, wanted.fills)), ...kept };
}

/** The revision that a run wants, and what it is delivered to. @throws HttpProblem 404, 409 */
export async function keptOrder(
  manager: EntityManager,
  { titleId, orderId, revision, targetId }: Omit<NewOrderRun, 'fills'>,
): Promise<Omit<OrderIngredients, 'order' | 'programmes'> & { file: OrderFile }> {
  const title = checkThere('title', titleId, await manager.findOneBy(TitleEntity, { id: titleId }));
  const entity = checkThere('running order', orderId, await manager.findOneBy(OrderEntity, { id: orderId }));
  if (entity.titleId !== titleId) throw notFound('running order of this title', orderId);
  const kept = await manager.findOneBy(OrderRevisionEntity, { orderId, revision: revision ?? entity.revision });
  if (!kept) throw notFound(`revision ${revision} of the running order`, orderId);
  const { file: target, approval, shipped } = await standingTarget(manager, targetId);
  return {
    file: kept.file,
    revision: kept.revision,
    target,
    titleName: title.name,
    unapproved: unapprovedOf(title, [
      { what: `revision ${kept.revision} of “${entity.name}”`, approval: kept.approval },
      ...(shipped ? [] : [{ what: `the target “${target.name}”`, approval }]),
    ]),
    chapters: await chaptersOf(manager, titleId),
  };
}

/** An order with its chains as files, filled. Throws as a run of it would. */
export async function filledOrder(
  manager: EntityManager,
  file: OrderFile,
  fills: NewOrderRun['fills'],
): Promise<Pick<OrderIngredients, 'order' | 'programmes'>> {
  const order = await orderWithChains(manager, file);
  checkFills(order, fills);
  const recordings = await recordingsOf(manager, order, fills);
  const programmes = fills.map((fill): Programme => {
    const own = new Map(order.parts.map((part) => [part.id, recordings.get(recordingIdOf(part, fill)!)!]));
    return { fill, recordings: own, body: own.get(bodyOf(order).id)! };
  });
  checkMarks(order, programmes);
  return { order, programmes };
}

/** @throws InvalidOrderError */
export async function orderWithChains(manager: EntityManager, file: OrderFile): Promise<OrderFile> {
  const order = withChains(file, await chainFinder(manager, chainNamesOf(file)));
  refuseOrder(orderFaults(order));
  return order;
}

export const recordingIdOf = ({ source }: OrderPart, fill: Readonly<Record<string, string>>): string | undefined =>
  'place' in source ? fill[source.place] : source.recording;

/** The part that an episode is told by: what fills `body`, or the first place, or the first part. */
export const bodyOf = ({ parts }: OrderFile): OrderPart =>
  parts.find(({ source }) => 'place' in source && source.place === 'body') ??
  parts.find(({ source }) => 'place' in source) ??
  parts[0];

/** Chains by their names: those of the house before those that ship. */
async function chainFinder(
  manager: EntityManager,
  names: readonly string[],
): Promise<(name: string) => ChainFile | undefined> {
  const chains = await manager.findBy(ChainEntity, { trashedAt: IsNull() });
  const files = new Map<string, ChainFile>();
  for (const called of new Set(names)) {
    const own = newestNamed(chains, called);
    const shipped = SHIPPED_CHAINS.find(({ name }) => name.toLowerCase() === called.toLowerCase());
    if (own) {
      const { id, name, revision } = own;
      const { file } = await manager.findOneByOrFail(ChainRevisionEntity, { chainId: id, revision });
      files.set(called, { ...file, name });
    } else if (shipped) files.set(called, shipped);
  }
  return (name) => files.get(name);
}

function checkFills(order: OrderFile, fills: NewOrderRun['fills']): void {
  const places = placesOf(order);
  const faults = fills.flatMap((fill, i) => [
    ...Object.keys(fill)
      .filter((place) => !places.includes(place))
      .map((place) => ({ where: `programme ${i + 1}`, field: place, message: 'the order has no such place.' })),
    ...order.parts.flatMap((part) =>
      'place' in part.source && !fill[part.source.place]
        ? [
            {
              where: `programme ${i + 1}`,
              field: `part "${partName(part)}", source.place`,
              message: `nothing fills the place "${part.source.place}".`,
            },
          ]
        : [],
    ),
  ]);
  refuseOrder(faults, 'empty-place');
}

/** @throws HttpProblem 404 */
async function recordingsOf(
  manager: EntityManager,
  order: OrderFile,
  fills: NewOrderRun['fills'],
): Promise<Map<string, PartSound>> {
  const known = await knownRecordings(manager, order, fills);
  for (const fill of fills)
    for (const part of order.parts) {
      const id = recordingIdOf(part, fill)!;
      if (!known.has(id))
        throw notFound('place' in part.source ? 'recording' : `recording for the part "${partName(part)}"`, id);
    }
  return known;
}

/** What is there, by the ids that name it. What an order names is meant in its newest take. */
export async function knownRecordings(
  manager: EntityManager,
  order: OrderFile,
  fills: NewOrderRun['fills'],
): Promise<Map<string, PartSound>> {
  const filled = fills.flatMap((fill) => Object.values(fill));
  const named = order.parts.flatMap(({ source }) => ('place' in source ? [] : [source.recording]));
  const known = await soundsById(manager, [...new Set([...filled, ...named])]);
  for (const [id, { trashedAt }] of known) if (known.get(id)!.id === id && trashedAt !== null) known.delete(id);
  for (const id of named) {
    const own = known.get(id);
    if (!own?.superseded) continue;
    const newest = await manager.findOneBy(RecordingEntity, {
      takeOf: own.takeOf,
      superseded: false,
      trashedAt: IsNull(),
    });
    if (newest) known.set(id, newest);
  }
  return known;
}

/** One that is not measured yet may still be read. */
const marksOf = (sound: PartSound) => foretoldSound(sound)?.marks ?? sound.marks;

/** A mark that no body has is wrong with the order; one that some have fails the others alone. */
function checkMarks(order: OrderFile, programmes: readonly Programme[]): void {
  const faults = order.parts.flatMap((part) => {
    const { begins } = part;
    if (!('into' in begins)) return [];
    const has = ({ recordings }: Programme) =>
      marksOf(recordings.get(begins.into)!).some(({ name }) => name === begins.mark);
    if (programmes.some(has)) return [];
    const message = `there is no mark "${begins.mark}" in ${programmes.length === 1 ? 'it' : 'any of them'}.`;
    return [{ where: `part "${partName(part)}"`, field: 'begins.mark', message }];
  });
  if (faults.length) refuseOrder(faults);
}

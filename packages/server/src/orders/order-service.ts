import type {
  NewApproval,
  NewOrderDraft,
  NewOrderRevision,
  OrderDraft,
  OrderRevision,
  OrderSummary,
  RunningOrder,
} from '@tonos/contract';
import { type OrderFile, orderFaults, placesOf, refuseOrder } from '@tonos/core';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller } from '../http/caller.ts';
import { checkThere, notFound } from '../http/problems.ts';
import { approvedNow, checkMayFollow } from '../revisions/approvals.ts';
import { changeRevised, dropDraftOf, type Revised, saveDraftOf, versionFor } from '../revisions/change-revised.ts';
import { draftsOf } from '../revisions/drafts.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { OrderEntity, OrderRevisionEntity } from './order-entity.ts';

/** Running orders of titles: immutable revisions, and for each person a draft of work in progress. */
export class OrderService {
  constructor(
    private readonly database: Database,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {}

  async listOf(titleId: string): Promise<OrderSummary[]> {
    checkThere('title', titleId, await this.database.of(TitleEntity).findOneBy({ id: titleId }));
    const orders = await this.database
      .of(OrderEntity)
      .find({ where: { titleId, trashedAt: IsNull() }, order: { createdAt: 'ASC', name: 'ASC' } });
    const latest = await this.database
      .of(OrderRevisionEntity)
      .createQueryBuilder('revision')
      .innerJoin(OrderEntity, 'order', 'order.id = revision.orderId AND order.revision = revision.revision')
      .where('order.titleId = :titleId', { titleId })
      .getMany();
    const fileOf = new Map(latest.map(({ orderId, file }) => [orderId, file]));
    const drafts = await draftsOf<OrderDraft>(this.database, 'order');
    return orders.map((order) => summary(order, fileOf.get(order.id)!, drafts.own(order.id)));
  }

  async get(id: string): Promise<RunningOrder> {
    const order = await this.find(id);
    const revisions = await this.database
      .of(OrderRevisionEntity)
      .find({ where: { orderId: id }, order: { revision: 'DESC' } });
    const drafts = await draftsOf<OrderDraft>(this.database, 'order', id);
    const own = drafts.own(id);
    return {
      ...summary(order, revisions[0].file, own),
      version: versionFor(order, own),
      order: revisions[0].file,
      draft: own?.content ?? null,
      drafts: drafts.others(id),
      revisions: revisions.map(({ revision, note, author, createdAt, file, approval }) => ({
        revision,
        note,
        author,
        createdAt,
        partCount: file.parts.length,
        approval,
      })),
    };
  }

  async revision(id: string, number: number): Promise<OrderRevision> {
    await this.find(id);
    const { file: order, revision, note, author, createdAt } = await this.findRevision(id, number);
    return { id, revision, note, author, createdAt, order };
  }

  /** @throws InvalidOrderError where it could never be put together */
  async add(titleId: string, file: OrderFile): Promise<RunningOrder> {
    checkWhole(file);
    const { newId, now } = this.surroundings;
    const [id, createdAt] = [newId(), now()];
    await this.database.transaction(async (manager) => {
      checkThere('title', titleId, await manager.findOneBy(TitleEntity, { id: titleId }));
      await manager.insert(OrderEntity, {
        id,
        titleId,
        name: file.name,
        revision: 1,
        version: 1,
        createdAt,
        changedAt: createdAt,
        trashedAt: null,
      });
      await manager.save(OrderRevisionEntity, {
        orderId: id,
        revision: 1,
        file,
        note: '',
        author: caller().name,
        createdAt,
        approval: null,
      });
    });
    return this.told(id);
  }

  /** @param seen the version of the order that the change was made on */
  async keep(id: string, { order, note, author, basedOn }: NewOrderRevision, seen?: number): Promise<RunningOrder> {
    checkWhole(order);
    const createdAt = this.surroundings.now();
    await this.database.transaction(async (manager) => {
      const found = await this.find(id);
      const revision = found.revision + 1;
      checkMayFollow((await this.findRevision(id, found.revision)).approval, `the running order “${found.name}”`);
      const change = { name: order.name, revision, changedAt: createdAt };
      await changeRevised(manager, revised(found), { version: seen, basedOn }, change);
      const by = caller().name || author;
      const kept = { orderId: id, revision, file: order, note, author: by, createdAt, approval: null };
      await manager.save(OrderRevisionEntity, kept);
    });
    return this.told(id);
  }

  /** @param seen the version of the order that the change was made on */
  async saveDraft(id: string, { order, basedOn, author }: NewOrderDraft, seen?: number): Promise<RunningOrder> {
    const changedAt = this.surroundings.now();
    const { name, personId } = caller();
    const draft = { order, basedOn, changedAt, author: name || author };
    const begins = await this.database.transaction(async (manager) =>
      saveDraftOf(manager, revised(await this.find(id)), { version: seen, basedOn }, draft),
    );
    return this.told(id, begins ? undefined : personId);
  }

  /** @returns the version of the order without it */
  async dropDraft(id: string, seen?: number): Promise<number> {
    await this.database.transaction(async (manager) => dropDraftOf(manager, revised(await this.find(id)), seen));
    return (await this.told(id)).version;
  }

  /** A lead stands for a revision, or no longer. */
  async approve(id: string, revision: number, approval: NewApproval | null): Promise<RunningOrder> {
    const now = this.surroundings.now();
    await this.database.transaction(async (manager) => {
      await this.find(id);
      await this.findRevision(id, revision);
      const given = { approval: approval && approvedNow(approval, now) };
      await manager.update(OrderRevisionEntity, { orderId: id, revision }, given);
    });
    return this.told(id);
  }

  /** @param only the person whom it concerns; undefined for everybody */
  private async told(id: string, only?: string): Promise<RunningOrder> {
    const order = await this.get(id);
    this.bus.publish({ type: 'order', orderId: id, titleId: order.titleId }, only);
    return order;
  }

  private async find(id: string): Promise<OrderEntity> {
    return checkThere('running order', id, await this.database.of(OrderEntity).findOneBy({ id }));
  }

  private async findRevision(orderId: string, revision: number): Promise<OrderRevisionEntity> {
    const found = await this.database.of(OrderRevisionEntity).findOneBy({ orderId, revision });
    if (!found) throw notFound(`revision ${revision} of the running order`, orderId);
    return found;
  }
}

/** One without parts is only begun; what there is must fit together. */
function checkWhole(order: OrderFile): void {
  if (order.parts.length) refuseOrder(orderFaults(order));
}

const revised = (row: OrderEntity): Revised<OrderEntity> => ({ thing: 'order', entity: OrderEntity, row });

const summary = (
  order: OrderEntity,
  latest: OrderFile,
  draft: { content: OrderDraft | null; changedAt: string } | null,
): OrderSummary => ({
  id: order.id,
  titleId: order.titleId,
  name: order.name,
  revision: order.revision,
  partCount: latest.parts.length,
  places: placesOf(latest),
  hasDraft: !!draft?.content,
  createdAt: order.createdAt,
  changedAt: draft?.content && draft.changedAt > order.changedAt ? draft.changedAt : order.changedAt,
});

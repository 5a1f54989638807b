import type { NewOrderDraft, NewOrderRevision, OrderRevision, OrderSummary, RunningOrder } from '@tonos/contract';
import { type OrderFile, orderFaults, placesOf, refuseOrder } from '@tonos/core';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { checkThere, notFound } from '../http/problems.ts';
import { changeRevised, dropDraftOf } from '../revisions/change-revised.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { OrderEntity, OrderRevisionEntity } from './order-entity.ts';

/** Running orders of titles: immutable revisions, and one draft each for work in progress. */
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
    return orders.map((order) => summary(order, fileOf.get(order.id)!));
  }

  async get(id: string): Promise<RunningOrder> {
    const order = await this.find(id);
    const revisions = await this.database
      .of(OrderRevisionEntity)
      .find({ where: { orderId: id }, order: { revision: 'DESC' } });
    return {
      ...summary(order, revisions[0].file),
      version: order.version,
      order: revisions[0].file,
      draft: order.draft,
      revisions: revisions.map(({ revision, note, author, createdAt, file }) => ({
        revision,
        note,
        author,
        createdAt,
        partCount: file.parts.length,
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
        draft: null,
        createdAt,
        changedAt: createdAt,
        trashedAt: null,
      });
      await manager.save(OrderRevisionEntity, { orderId: id, revision: 1, file, note: '', author: '', createdAt });
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
      const change = { name: order.name, revision, draft: null, changedAt: createdAt };
      await changeRevised(manager, OrderEntity, found, { version: seen, basedOn }, change);
      await manager.save(OrderRevisionEntity, { orderId: id, revision, file: order, note, author, createdAt });
    });
    return this.told(id);
  }

  /** @param seen the version of the order that the change was made on */
  async saveDraft(id: string, { order, basedOn, author }: NewOrderDraft, seen?: number): Promise<RunningOrder> {
    const changedAt = this.surroundings.now();
    const change = { draft: { order, basedOn, changedAt, author }, changedAt };
    await this.database.transaction(async (manager) =>
      changeRevised(manager, OrderEntity, await this.find(id), { version: seen, basedOn }, change),
    );
    return this.told(id);
  }

  /** @returns the version of the order without it */
  async dropDraft(id: string, seen?: number): Promise<number> {
    await this.database.transaction(async (manager) => dropDraftOf(manager, OrderEntity, await this.find(id), seen));
    return (await this.told(id)).version;
  }

  private async told(id: string): Promise<RunningOrder> {
    const order = await this.get(id);
    this.bus.publish({ type: 'order', orderId: id, titleId: order.titleId });
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

const summary = (order: OrderEntity, latest: OrderFile): OrderSummary => ({
  id: order.id,
  titleId: order.titleId,
  name: order.name,
  revision: order.revision,
  partCount: latest.parts.length,
  places: placesOf(latest),
  hasDraft: order.draft !== null,
  createdAt: order.createdAt,
  changedAt: order.changedAt,
});

import type { Target } from '@tonos/contract';
import { SHIPPED_TARGETS, type TargetFile } from '@tonos/core';
import type { Database } from '../database/database.ts';
import { notFound } from '../http/problems.ts';
import type { Surroundings } from '../surroundings.ts';
import { TargetEntity } from './target-entity.ts';

export class TargetService {
  constructor(
    private readonly database: Database,
    private readonly surroundings: Surroundings,
  ) {}

  /** Shipped targets that are not there yet come in. One that runs used stays as it was. */
  async loadShipped(): Promise<void> {
    await this.database.transaction(async (manager) => {
      for (const file of SHIPPED_TARGETS) {
        if (await manager.existsBy(TargetEntity, { name: file.name, shipped: true })) continue;
        await manager.insert(TargetEntity, this.entityOf(file, true));
      }
    });
  }

  async list(): Promise<Target[]> {
    return (await this.database.of(TargetEntity).find({ order: { shipped: 'DESC', createdAt: 'ASC' } })).map(describe);
  }

  async get(id: string): Promise<Target> {
    const target = await this.database.of(TargetEntity).findOneBy({ id });
    if (!target) throw notFound('target', id);
    return describe(target);
  }

  async add(file: TargetFile): Promise<Target> {
    const entity = this.entityOf(file, false);
    await this.database.of(TargetEntity).insert(entity);
    return describe(entity);
  }

  private entityOf(file: TargetFile, shipped: boolean): TargetEntity {
    return { id: this.surroundings.newId(), name: file.name, shipped, file, createdAt: this.surroundings.now() };
  }
}

const describe = ({ id, shipped, file }: TargetEntity): Target => ({
  ...file,
  id,
  shipped,
});

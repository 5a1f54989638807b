import type { NewApproval, Target } from '@tonos/contract';
import { SHIPPED_TARGETS, type TargetFile } from '@tonos/core';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller, checkRole } from '../http/caller.ts';
import { checkThere, HttpProblem } from '../http/problems.ts';
import { approvedNow } from '../revisions/approvals.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { TargetEntity } from './target-entity.ts';

export class TargetService {
  constructor(
    private readonly database: Database,
    private readonly bus: EventBus,
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
    const current = await this.database
      .of(TargetEntity)
      .find({ where: { superseded: false, trashedAt: IsNull() }, order: { shipped: 'DESC', createdAt: 'ASC' } });
    return current.map(describe);
  }

  async get(id: string): Promise<Target> {
    return describe(await this.find(id));
  }

  async add(file: TargetFile): Promise<Target> {
    const entity = this.entityOf(file, false);
    await this.database.transaction((manager) => manager.insert(TargetEntity, entity));
    return this.told(entity);
  }

  /** The next version takes the place of this one, in titles too; runs keep what they were started with. */
  async change(id: string, file: TargetFile): Promise<Target> {
    const old = await this.own(id);
    checkOwnTarget(old);
    if (old.superseded)
      throw new HttpProblem(409, 'stale-version', `"${old.name}" has a later version by now. Load the page again.`);
    const next = { ...this.entityOf(file, false), version: old.version + 1, createdAt: old.createdAt };
    await this.database.transaction(async (manager) => {
      await manager.insert(TargetEntity, next);
      await manager.update(TargetEntity, { id }, { superseded: true });
      await manager.update(TitleEntity, { targetId: id }, { targetId: next.id });
    });
    return this.told(next);
  }

  /** A lead stands for this version, or no longer. */
  async approve(id: string, approval: NewApproval | null): Promise<Target> {
    const target = await this.find(id);
    const given = { approval: approval && approvedNow(approval, this.surroundings.now()) };
    await this.database.transaction((manager) => manager.update(TargetEntity, { id }, given));
    return this.told({ ...target, ...given });
  }

  private told(target: TargetEntity): Target {
    this.bus.publish({ type: 'target', targetId: target.id });
    return describe(target);
  }

  private async own(id: string): Promise<TargetEntity> {
    const target = await this.find(id);
    if (target.shipped)
      throw new HttpProblem(409, 'read-only', 'Targets that ship stay as they are. Copy this one and change the copy.');
    return target;
  }

  private async find(id: string): Promise<TargetEntity> {
    return checkThere('target', id, await this.database.of(TargetEntity).findOneBy({ id }));
  }

  private entityOf(file: TargetFile, shipped: boolean): TargetEntity {
    const { newId, now } = this.surroundings;
    const personId = shipped ? null : caller().personId;
    const first = { version: 1, superseded: false, trashedAt: null, personId, approval: null };
    return { id: newId(), name: file.name, shipped, file, createdAt: now(), ...first };
  }
}

/** Targets of others are a lead's to change: what they ask holds for everybody's runs. @throws HttpProblem 403 */
export function checkOwnTarget({ name, personId, approval }: TargetEntity): void {
  if (personId !== caller().personId) checkRole('lead', `change “${name}”, which is somebody else’s`);
  if (approval) checkRole('lead', `change “${name}”, which is approved`);
}

const describe = ({ id, shipped, file, version, superseded, personId, approval }: TargetEntity): Target => ({
  ...file,
  id,
  shipped,
  version,
  superseded,
  personId,
  approval,
});

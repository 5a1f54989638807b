import type { EntityManager, EntityTarget, FindOptionsWhere, ObjectLiteral, UpdateResult } from 'typeorm';

/**
 * Writes columns without reading the row first, which `save` does. The driver's own types would take columns apart that hold
 * JSON.
 */
export const updateRows = <E extends ObjectLiteral>(
  manager: EntityManager,
  entity: EntityTarget<E>,
  where: FindOptionsWhere<E>,
  change: Partial<E>,
): Promise<UpdateResult> => manager.update(entity, where, change as never);

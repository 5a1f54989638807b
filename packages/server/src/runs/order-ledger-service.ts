import { createHash } from 'node:crypto';
import type { ProgrammeLedger, ProgrammeLedgerLine, ProgrammeQuestion, RecipeInput } from '@tonos/contract';
import type { OrderFile, TargetFile } from '@tonos/core';
import { LRUCache } from 'lru-cache';
import type { EntityManager } from 'typeorm';
import type { Database } from '../database/database.ts';
import { checkThere, HttpProblem } from '../http/problems.ts';
import { OrderEntity } from '../orders/order-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import type { OneAtATime } from '../workers/one-at-a-time.ts';
import { filledOrder } from './order-ingredients.ts';
import { partFiles, partInput } from './order-parts.ts';

interface Question {
  order: OrderFile;
  parts: NonNullable<RecipeInput['order']>['parts'];
  /** That of the title: at its rate a run would put the programme together. */
  target: TargetFile | undefined;
}

/** So many are remembered: what somebody comes back to, and undoes. */
const MOST_KEPT = 50;

/** What a running order under work does to the levels: found by putting the programme together, told when it is known. */
export class OrderLedgerService {
  private readonly known = new LRUCache<string, ProgrammeLedger>({ max: MOST_KEPT });

  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly queue: OneAtATime,
  ) {}

  /** @param tell is called with one line after the other, until it ends; throws as a run of the order would */
  async measure(
    id: string,
    asked: ProgrammeQuestion,
    signal: AbortSignal,
    tell: (line: ProgrammeLedgerLine) => void,
  ): Promise<void> {
    const question = await this.database.transaction((manager) => questionOf(manager, id, asked));
    const { order, parts, target } = question;
    const key = createHash('sha256').update(JSON.stringify(question)).digest('hex');
    const known = () => {
      const ledger = this.known.get(key);
      return ledger && { type: 'programme-accounted' as const, ledger };
    };
    const remembered = known();
    if (remembered) {
      tell({ type: 'done', ledger: remembered.ledger });
      return;
    }
    const spoolFolder = await this.store.spoolFolder();
    try {
      const end = await this.queue.run(
        { type: 'order-ledger', name: order.name, order, files: partFiles(parts, this.store), target, spoolFolder },
        { wanted: signal, stops: true, progress: (share) => tell({ type: 'progress', share }), known },
      );
      if (end.type === 'programme-accounted') {
        this.known.set(key, end.ledger);
        tell({ type: 'done', ledger: end.ledger });
      } else if (end.type === 'failed') tell({ type: 'failed', message: end.error.message });
    } finally {
      await this.store.discard(spoolFolder);
    }
  }
}

async function questionOf(manager: EntityManager, id: string, { order, fill }: ProgrammeQuestion): Promise<Question> {
  const { titleId } = checkThere('running order', id, await manager.findOneBy(OrderEntity, { id }));
  const { targetId } = await manager.findOneByOrFail(TitleEntity, { id: titleId });
  const { order: whole, programmes } = await filledOrder(manager, order, [fill]);
  const parts: Question['parts'] = {};
  for (const [partId, recording] of programmes[0].recordings) {
    if (recording.status !== 'ready')
      throw new HttpProblem(
        409,
        'not-ready',
        recording.status === 'unreadable'
          ? `${recording.name} can\u2019t be read: replace it, or choose another for this part.`
          : `${recording.name} is still being measured.`,
      );
    parts[partId] = await partInput(manager, recording);
  }
  const target = targetId ? await manager.findOneBy(TargetEntity, { id: targetId }) : null;
  return { order: whole, parts, target: target?.file };
}

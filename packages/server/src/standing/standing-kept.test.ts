import type { RecordingPart, ServerEvent } from '@tonos/contract';
import type { Database } from '../database/database.ts';
import { EventBus } from '../events/event-bus.ts';
import { StandingService } from './standing-service.ts';

/** How often the title `a` is looked through when it is asked for, something happens, and it is asked for again. */
async function looksAround(event: unknown): Promise<number> {
  let looks = 0;
  const many = async () => {
    looks++;
    return [];
  };
  const database = { many, of: () => ({ findOneBy: async () => ({ trashedAt: null }) }) };
  const bus = new EventBus();
  const standing = new StandingService(database as unknown as Database, bus);
  await standing.of('a');
  bus.publish(event as ServerEvent);
  await standing.of('a');
  return looks;
}

const changed = (...changes: Partial<RecordingPart>[]) => ({ type: 'recordings', titleId: 'a', changes });

it.each([
  ['labels of its recordings', changed({ id: '1', version: 2, speaker: 'Ada' }, { id: '2', room: '' })],
  ['somebody looks at a page', { type: 'presence' }],
  ['a place of the index', { type: 'index-place', letter: 'k' }],
  ['how far an item is', { type: 'item-progress', titleId: 'a' }],
  ['another title', { type: 'title', titleId: 'b' }],
  ['a recording of another title', { type: 'recording', recording: { titleId: 'b' } }],
])('what was delivered is not looked up again for %s', async (_, event) => {
  expect(await looksAround(event)).toBe(1);
});

it.each([
  ['a recording', { type: 'recording', recording: { titleId: 'a' } }],
  ['recordings, nobody says how', changed()],
  ['adjustments with a label', changed({ id: '1', speaker: 'Ada' }, { id: '2', adjustments: {} })],
  ['a run', { type: 'run', run: { titleId: 'a' } }],
  ['an order', { type: 'order', titleId: 'a', orderId: 'o' }],
  ['what came back from outside', { type: 'outing', titleId: 'a' }],
  ['a chain', { type: 'chain', chainId: 'c' }],
  ['a target', { type: 'target', targetId: 't' }],
  ['the trash', { type: 'trash' }],
])('what was delivered is looked up again after a change of %s', async (_, event) => {
  expect(await looksAround(event)).toBe(2);
});

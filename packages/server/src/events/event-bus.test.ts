import type { ServerEvent } from '@tonos/contract';
import { EventBus } from './event-bus.ts';

it('parts of the server hear all and are nobody who listens; what is noted is for them alone', () => {
  const bus = new EventBus();
  const [watched, heard]: [ServerEvent[], ServerEvent[]] = [[], []];
  bus.watch((event) => watched.push(event));
  expect(bus.isHeard).toBe(false);
  const end = bus.subscribe((event) => heard.push(event));
  expect(bus.isHeard).toBe(true);
  const noted: ServerEvent = { type: 'run-moved', titleId: 't', runId: 'r' };
  const told: ServerEvent = { type: 'sets', titleId: 't' };
  bus.note(noted);
  bus.publish(told);
  expect(watched).toEqual([noted, told]);
  expect(heard).toEqual([told]);
  end();
  expect(bus.isHeard).toBe(false);
  bus.publish(noted);
  expect(watched).toHaveLength(3);
  expect(heard).toHaveLength(1);
});

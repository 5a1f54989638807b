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
  const before = bus.mark;
  bus.publish({ type: 'recording-progress', titleId: 't', recordingId: 'r', share: 0.5 } as ServerEvent);
  bus.note({ type: 'presence' });
  expect(bus.mark).toBe(before);
  bus.publish(told);
  expect(bus.mark).not.toBe(before);
  // what nobody was told of has changed all the same
  const behind = bus.mark;
  bus.note(noted);
  expect(bus.mark).not.toBe(behind);
  // the same count of another start is another mark
  expect(new EventBus().mark).not.toBe(before);
  expect(watched).toEqual([noted, expect.anything(), { type: 'presence' }, told, noted]);
  expect(heard).toEqual([expect.anything(), told]);
  end();
  expect(bus.isHeard).toBe(false);
  bus.publish(noted);
  expect(watched).toHaveLength(6);
  expect(heard).toHaveLength(2);
});

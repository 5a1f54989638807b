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
  const before = bus.mark;
  bus.note(noted);
  bus.publish({ type: 'recording-progress', titleId: 't', recordingId: 'r', share: 0.5 } as ServerEvent);
  expect(bus.mark).toBe(before);
  bus.publish(told);
  expect(bus.mark).not.toBe(before);
  // the same count of another start is another mark
  expect(new EventBus().mark).not.toBe(before);
  expect(watched).toEqual([noted, expect.anything(), told]);
  expect(heard).toEqual([expect.anything(), told]);
  end();
  expect(bus.isHeard).toBe(false);
  bus.publish(noted);
  expect(watched).toHaveLength(4);
  expect(heard).toHaveLength(2);
});

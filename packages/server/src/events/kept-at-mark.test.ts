import type { ServerEvent } from '@tonos/contract';
import { EventBus } from './event-bus.ts';
import { KeptAtMark } from './kept-at-mark.ts';

const CHANGE: ServerEvent = { type: 'sets', titleId: 't' };
const PROGRESS = { type: 'recording-progress', titleId: 't', recordingId: 'r', share: 0.5 } as ServerEvent;

function counted() {
  const bus = new EventBus();
  let times = 0;
  const give: ((value: number) => void)[] = [];
  const refuse: ((error: Error) => void)[] = [];
  const kept = new KeptAtMark(
    bus,
    () =>
      new Promise<number>((resolve, reject) => {
        times++;
        give.push(resolve);
        refuse.push(reject);
      }),
  );
  return { bus, kept, give, refuse, times: () => times };
}

it('is put together once, for all who ask at the same time and later, until something has changed', async () => {
  const { bus, kept, give, times } = counted();
  const both = [kept.get(), kept.get()];
  give[0](1);
  expect(await Promise.all(both)).toEqual([1, 1]);
  bus.publish(PROGRESS);
  expect(await kept.get()).toBe(1);
  expect(times()).toBe(1);
  bus.note(CHANGE);
  const next = kept.get();
  give[1](2);
  expect(await next).toBe(2);
});

it('what was begun before a change is not given to who asks behind it', async () => {
  const { bus, kept, give } = counted();
  const before = kept.get();
  bus.note(CHANGE);
  const behind = kept.get();
  give[1](2);
  give[0](1);
  expect(await before).toBe(1);
  expect(await behind).toBe(2);
  expect(await kept.get()).toBe(2);
});

it('what failed is tried again', async () => {
  const { kept, give, refuse } = counted();
  const failed = kept.get();
  refuse[0](new Error('no disk'));
  await expect(failed).rejects.toThrow('no disk');
  const again = kept.get();
  give[1](3);
  expect(await again).toBe(3);
});

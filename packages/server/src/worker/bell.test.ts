import { Bell } from './bell.ts';

const never = new AbortController().signal;
/** Whether something has happened by now. */
const isDone = async (work: Promise<unknown>) => {
  const pending = Symbol();
  await new Promise((resolve) => setImmediate(resolve));
  return (await Promise.race([work, Promise.resolve(pending)])) !== pending;
};

it('wakes whoever waits, and nobody who comes later', async () => {
  const bell = new Bell();
  const [one, two] = [bell.wait(never, true), bell.wait(never, true)];
  expect(await isDone(one)).toBe(false);
  bell.ring();
  expect([await isDone(one), await isDone(two)]).toEqual([true, true]);
  expect(await isDone(bell.wait(never, true))).toBe(false);
});

it('what is to ring once waits until somebody has nothing to do', async () => {
  const bell = new Bell();
  const ringing = bell.ringOnce();
  expect(await isDone(ringing)).toBe(false);
  const waiting = bell.wait(never, true);
  expect([await isDone(ringing), await isDone(waiting)]).toEqual([true, true]);
});

it('who is stopped waits no longer', async () => {
  const bell = new Bell();
  const stopping = new AbortController();
  const waiting = bell.wait(stopping.signal, true);
  stopping.abort();
  expect(await isDone(waiting)).toBe(true);
  expect(await isDone(bell.wait(stopping.signal, true))).toBe(true);
});

it('one that drains keeps no others from what is told', async () => {
  const bell = new Bell();
  const draining = bell.wait(never, false);
  const ringing = bell.ringOnce();
  expect([await isDone(ringing), await isDone(draining)]).toEqual([false, false]);
  // taken back in, it is woken, and waits as one that would
  bell.ring();
  expect(await isDone(draining)).toBe(true);
  const free = bell.wait(never, true);
  expect([await isDone(ringing), await isDone(free)]).toEqual([true, true]);
});

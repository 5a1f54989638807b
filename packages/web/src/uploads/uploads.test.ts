import type { Recording } from '@tonos/contract';
import { LARGE_BYTES } from './send-large-file.ts';
import { Uploads } from './uploads.ts';

const file = (name: string, size = 10) => ({ name, size }) as File;
const TO = { titleId: 't', titleName: 'The Weir' };

/** Ways to the server that do what the test says. */
function given() {
  const sent: { names: string[]; resolve(): void; reject(error: Error): void; signal: AbortSignal }[] = [];
  const large: { events: Parameters<NeedsOf['sendLargeFile']>[2]; calls: string[] }[] = [];
  const came: string[] = [];
  const uploads = new Uploads({
    uploadFiles: (_, files, { signal, progress }) =>
      new Promise<Recording[]>((resolve, reject) => {
        progress({ sentBytes: 1, totalBytes: 10 });
        signal.addEventListener('abort', () => reject(new DOMException('', 'AbortError')));
        sent.push({ names: files.map(({ name }) => name), resolve: () => resolve([]), reject, signal });
      }),
    sendLargeFile: (_, __, events) => {
      const calls: string[] = [];
      large.push({ events, calls });
      return {
        pause: () => calls.push('pause'),
        goOn: () => calls.push('go on'),
        cancel: () => calls.push('cancel'),
      };
    },
    arrived: (_, __, what) => came.push(what),
  });
  return { uploads, sent, large, came };
}
type NeedsOf = ConstructorParameters<typeof Uploads>[0];
const turn = () => new Promise((resolve) => setTimeout(resolve, 0));
const states = (uploads: Uploads) => uploads.transfers().map(({ what, state }) => `${what}: ${state}`);

it('P18, P29: sends small files together in the order of their numbers, then large ones, one after the other', async () => {
  const { uploads, sent, large, came } = given();
  uploads.send(TO, [file('10 b.wav'), file('2 a.wav'), file('long.wav', LARGE_BYTES)]);
  expect(states(uploads)).toEqual(['2 files: sending', 'long.wav: waiting']);
  expect(uploads.isUnderWay).toBe(true);
  expect(sent[0].names).toEqual(['2 a.wav', '10 b.wav']);
  sent[0].resolve();
  await turn();
  expect(states(uploads)).toEqual(['long.wav: sending']);
  large[0].events.done();
  await turn();
  expect([states(uploads), came, uploads.isUnderWay]).toEqual([[], ['2 files', 'long.wav'], false]);
});

it('what broke off stays with its reason, lets the others by, and is tried again', async () => {
  const { uploads, sent, came } = given();
  uploads.send(TO, [file('a.wav')]);
  uploads.send(TO, [file('b.wav')]);
  sent[0].reject(new Error('The upload broke off.'));
  await turn();
  expect(states(uploads)).toEqual(['a.wav: broken', 'b.wav: sending']);
  expect(uploads.transfers()[0].reason).toBe('The upload broke off.');
  sent[1].resolve();
  await turn();
  // it is not on the server and can't go on: leaving would lose it
  expect(uploads.isUnderWay).toBe(true);
  uploads.goOn(uploads.transfers()[0].id);
  await turn();
  sent[2].resolve();
  await turn();
  expect([states(uploads), came]).toEqual([[], ['b.wav', 'a.wav']]);
});

it('a large one pauses, goes on where it was, and is given up; what waits behind it goes on meanwhile', async () => {
  const { uploads, large } = given();
  uploads.send(TO, [file('a.wav', LARGE_BYTES), file('b.wav', LARGE_BYTES)]);
  large[0].events.progress({ sentBytes: 5, totalBytes: LARGE_BYTES });
  const [{ id }] = uploads.transfers();
  uploads.pause(id);
  await turn();
  expect(states(uploads)).toEqual(['a.wav: paused', 'b.wav: sending']);
  large[1].events.done();
  await turn();
  expect(uploads.isUnderWay).toBe(false); // what was sent is kept: nothing would be lost
  uploads.goOn(id);
  expect(uploads.transfers()[0]).toMatchObject({ state: 'sending', startedBytes: 5 });
  uploads.cancel(id);
  expect(large[0].calls).toEqual(['pause', 'go on', 'cancel']);
  expect(uploads.transfers()).toEqual([]);
});

it('tells who looks of every change, and gives the same list while there is none', async () => {
  const { uploads, sent } = given();
  let told = 0;
  const unsubscribe = uploads.subscribe(() => told++);
  uploads.send(TO, [file('a.wav')]);
  expect(told).toBeGreaterThan(0);
  expect(uploads.transfers()).toBe(uploads.transfers());
  uploads.cancel(uploads.transfers()[0].id);
  expect([sent[0].signal.aborted, uploads.transfers()]).toEqual([true, []]);
  unsubscribe();
  const before = told;
  uploads.send(TO, [file('b.wav')]);
  expect(told).toBe(before);
});

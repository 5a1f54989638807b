import { noteFirstMark } from './first-mark.ts';
import { listenTogether } from './shared-stream.ts';

/** A stream that the test opens, and breaks. */
class Stream extends EventTarget {
  static last: Stream;
  readonly readyState = 0;
  onmessage: unknown;
  onerror: () => void = () => {};
  constructor() {
    super();
    Stream.last = this;
  }
  begin(mark: string) {
    this.dispatchEvent(new MessageEvent('begun', { data: JSON.stringify(mark) }));
  }
  close() {}
}

it('asks afresh where something was told before the stream stood, and behind every break', () => {
  // one that knows no locks
  Object.assign(globalThis, { navigator: {}, EventSource: Object.assign(Stream, { CLOSED: 2 }) });
  noteFirstMark(new Response(null, { headers: { 'Tonos-Mark': 'a.7' } }));
  // what comes later says nothing of what was asked before it
  noteFirstMark(new Response(null, { headers: { 'Tonos-Mark': 'a.8' } }));
  let gaps = 0;
  const listener = { onEvent: () => {}, onGap: () => gaps++ };
  const end = listenTogether('/events', listener);
  Stream.last.begin('a.7');
  expect(gaps).toBe(0);
  Stream.last.onerror();
  Stream.last.begin('a.7');
  expect(gaps).toBe(1);
  end();
  listenTogether('/events', listener)();
  Stream.last.begin('a.8');
  expect(gaps).toBe(2);
});

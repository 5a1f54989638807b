import { answerPage } from '../testing/answer-page.ts';
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

const marked = (mark: string) => new Response(null, { headers: { 'Tonos-Mark': mark } });
let gaps: number;
const listener = { onEvent: () => {}, onGap: () => gaps++ };
beforeEach(() => {
  gaps = 0;
  Object.assign(globalThis, { EventSource: Object.assign(Stream, { CLOSED: 2 }) });
});

it('asks afresh where something was told before the stream stood, and behind every break', () => {
  // one that knows no locks
  Object.assign(globalThis, { navigator: {} });
  noteFirstMark(marked('a.7'));
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

it.each([
  ['a.7', 0],
  ['a.9', 1],
])(
  'a tab beside one that listens asks where the stream stands, since its own first answers: %s',
  async (now, expected) => {
    // another tab has the lock, and keeps it
    Object.assign(globalThis, { navigator: { locks: { request: () => new Promise(() => {}) } } });
    const putBack = answerPage(async ({ method }) => (method === 'HEAD' ? marked(now) : Response.error()));
    const end = listenTogether('/events', listener);
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(gaps).toBe(expected);
    end();
    putBack();
  },
);

it('first answers of which one was given later than another do not stand', () => {
  Object.assign(globalThis, { navigator: {} });
  noteFirstMark(marked('a.8'));
  const end = listenTogether('/events', listener);
  Stream.last.begin('a.8');
  expect(gaps).toBe(1);
  end();
});

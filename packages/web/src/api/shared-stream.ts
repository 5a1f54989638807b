import { ROUTES } from '@tonos/contract';
import { firstMark, isStillAtFirstMark } from './first-mark.ts';

/** What one of the page's tabs tells the others. */
type Told = { kind: 'event'; data: string } | { kind: 'gap' };

const NAME = 'tonos-events';

interface Listener {
  /** The data of one message. */
  onEvent(data: string): void;
  /** The stream was not there for a while: what is known may be old. */
  onGap(): void;
}

/**
 * Listens to the server's events, in one stream for all tabs of a browser: over HTTP/1.1 it allows a host six connections in all. The tab that
 * has the lock listens and tells the others; when it goes, another one gets the lock.
 * @returns what ends it
 */
export function listenTogether(url: string, { onEvent, onGap }: Listener): () => void {
  // without them, each tab by itself
  if (!('locks' in navigator) || typeof BroadcastChannel === 'undefined') return listen(url, onEvent, onGap);
  const channel = new BroadcastChannel(NAME);
  const gone = new AbortController();
  channel.onmessage = ({ data: told }: MessageEvent<Told>) => (told.kind === 'gap' ? onGap() : onEvent(told.data));
  let leads = false;
  const lead = () =>
    new Promise<void>((resolve) => {
      leads = true;
      const end = listen(
        url,
        (data) => {
          channel.postMessage({ kind: 'event', data } satisfies Told);
          onEvent(data);
        },
        () => {
          channel.postMessage({ kind: 'gap' } satisfies Told);
          onGap();
        },
      );
      gone.signal.addEventListener('abort', () => {
        end();
        resolve();
      });
    });
  navigator.locks.request(NAME, { signal: gone.signal }, lead).catch(() => {}); // it is not wanted any more
  // the stream that another tab listens to does not begin anew for this one: what changed since it first asked was not told here
  void isStillAtFirstMark(ROUTES.me.path).then((isStill) => {
    if (!isStill && !leads && !gone.signal.aborted) onGap();
  });
  return () => {
    gone.abort();
    channel.close();
  };
}

/** A stream that was refused, by the server or by a proxy before it, is tried again after so long. */
const AGAIN_MS = 3000;

/** One's own stream. It connects again by itself where it broke off, and is begun anew where it was refused. */
function listen(url: string, onEvent: (data: string) => void, onGap: () => void): () => void {
  // what was asked before the first connection may have changed until it stood; behind a break anything may have
  let known = firstMark();
  let source: EventSource;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const begin = () => {
    source = new EventSource(url);
    source.onmessage = ({ data }) => onEvent(data as string);
    source.onerror = () => {
      if (source.readyState !== EventSource.CLOSED) return;
      // whoever is signed out learns it by what the page asks then
      onGap();
      timer = setTimeout(begin, AGAIN_MS);
    };
    source.addEventListener('begun', ({ data }: MessageEvent<string>) => {
      if (JSON.parse(data) !== known) onGap();
      known = undefined;
    });
  };
  begin();
  return () => {
    clearTimeout(timer);
    source.close();
  };
}

import { ROUTES, type ServerEvent } from '@tonos/contract';
import { type Calls, serve } from '../http/serve.ts';
import type { EventBus } from './event-bus.ts';

const HEARTBEAT_MS = 15_000;
/** A listener that does not read is let go; it connects again and asks afresh. */
const MOST_WAITING_BYTES = 4 * 1024 * 1024;

/** The title that an event tells of; undefined where it tells of none. */
function titleOf(event: ServerEvent): string | undefined {
  if ('titleId' in event) return event.titleId;
  if (event.type === 'recording') return event.recording.titleId;
  return event.type === 'run' ? event.run.titleId : undefined;
}

/** As JSON, written once for all who listen. */
const texts = new WeakMap<ServerEvent, string>();
function textOf(event: ServerEvent): string {
  const text = texts.get(event) ?? JSON.stringify(event);
  texts.set(event, text);
  return text;
}

/** @param watch calls back when what the caller came in with ends @returns what takes that back */
export function eventRoutes(
  calls: Calls,
  bus: EventBus,
  watch: (credentialId: string, shut: () => void) => () => void,
): void {
  serve(calls, ROUTES.events, ({ response, caller }) => {
    const { personId, credential, sees } = caller!;
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
    response.write(`retry: 1000\n\nevent: begun\ndata: ${JSON.stringify(bus.mark)}\n\n`);
    const unwatch = credential ? watch(credential.id, () => response.destroy()) : () => {};
    const unsubscribe = bus.subscribe((event, only) => {
      const titleId = titleOf(event);
      if ((only !== undefined && only !== personId) || (titleId !== undefined && !sees(titleId))) return;
      if (response.writableLength > MOST_WAITING_BYTES) response.destroy();
      else response.write(`data: ${textOf(event)}\n\n`);
    });
    const heartbeat = setInterval(() => response.write(':\n\n'), HEARTBEAT_MS);
    response.on('close', () => {
      clearInterval(heartbeat);
      unsubscribe();
      unwatch();
    });
  });
}

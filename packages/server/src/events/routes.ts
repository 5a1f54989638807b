import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { serve } from '../http/serve.ts';
import type { EventBus } from './event-bus.ts';

const HEARTBEAT_MS = 15_000;
/** A listener that does not read is let go; it connects again and asks afresh. */
const MOST_WAITING_BYTES = 4 * 1024 * 1024;

export function eventRoutes(router: Router, bus: EventBus): void {
  serve(router, ROUTES.events, ({ response }) => {
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
    response.write('retry: 1000\n\n');
    const unsubscribe = bus.subscribe((event) => {
      if (response.writableLength > MOST_WAITING_BYTES) response.destroy();
      else response.write(`data: ${JSON.stringify(event)}\n\n`);
    });
    const heartbeat = setInterval(() => response.write(':\n\n'), HEARTBEAT_MS);
    response.on('close', () => {
      clearInterval(heartbeat);
      unsubscribe();
    });
  });
}

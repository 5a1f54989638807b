// Taken into the server by the bench: writes how long its main thread was held up at most, second by second.
import { appendFileSync } from 'node:fs';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { isMainThread } from 'node:worker_threads';

const path = process.env.TONOS_BENCH_LOOP;
/** A tick is to come after so long; what is measured has it in it. */
const TICK_MS = 5;

if (isMainThread && path) {
  const delay = monitorEventLoopDelay({ resolution: TICK_MS });
  delay.enable();
  setInterval(() => {
    appendFileSync(path, `${Math.round(delay.max / 1e6 - TICK_MS)}\n`);
    delay.reset();
  }, 1000).unref();
}

// Taken into the server by the bench: writes how long its main thread was held up at most, second by second, and how long at most without
// what it waited for a core of the machine.
import { appendFileSync, readFileSync } from 'node:fs';
import { isMainThread } from 'node:worker_threads';

const path = process.env.TONOS_BENCH_LOOP;
/** A tick is to come after so long. */
const TICK_MS = 5;

if (isMainThread && path) {
  // time on a core, time waiting for one, in nanoseconds (Documentation/scheduler/sched-stats.rst of the kernel)
  const waited = () => Number(readFileSync('/proc/thread-self/schedstat', 'latin1').split(' ')[1]) / 1e6;
  let last = performance.now();
  let lastWaited = waited();
  let most = 0;
  let mostOwn = 0;
  setInterval(() => {
    const now = performance.now();
    const nowWaited = waited();
    const held = now - last - TICK_MS;
    most = Math.max(most, held);
    mostOwn = Math.max(mostOwn, held - (nowWaited - lastWaited));
    last = now;
    lastWaited = nowWaited;
  }, TICK_MS).unref();
  setInterval(() => {
    appendFileSync(path, `${Math.round(most)} ${Math.round(mostOwn)}\n`);
    most = 0;
    mostOwn = 0;
  }, 1000).unref();
}

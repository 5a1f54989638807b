import { WATCH_WORDS, WatchKeeper } from '@tonos/core';
import { endModule } from './known-modules.ts';

const LOOK_MS = 100;

/** A worker in which modules run: one whose module does not come back is ended, and the page goes on with another. */
export class WatchedWorker<Message> {
  private readonly timer: ReturnType<typeof setInterval>;

  /**
   * @param start makes the worker, and tells it what its modules enter and leave
   * @param hung told once it was ended, with what is to be said
   */
  constructor(
    start: () => Worker,
    watchWith: (words: Int32Array) => Message,
    hung: (said: string) => void,
    words = new Int32Array(new SharedArrayBuffer(4 * WATCH_WORDS)),
  ) {
    this.worker = start();
    this.tell(watchWith(words));
    const keeper = new WatchKeeper(words);
    this.timer = setInterval(() => {
      const isIt = keeper.overdue(performance.now());
      if (!isIt) return;
      this.end();
      hung(endModule(isIt));
    }, LOOK_MS);
  }

  readonly worker: Worker;

  tell(message: Message): void {
    this.worker.postMessage(message);
  }

  end(): void {
    clearInterval(this.timer);
    this.worker.terminate();
  }
}

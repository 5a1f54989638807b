/** Who looks from outside whether a module comes back: nobody inside a thread can end a loop that runs in it. */
export interface ModuleWatch {
  /** A module begins to work on so many seconds of sound. @param sha256 which */
  enters(sha256: string, seconds: number): void;
  leaves(): void;
}

const NOBODY: ModuleWatch = { enters: () => {}, leaves: () => {} };

let watch: ModuleWatch = NOBODY;

/** Sets who watches the modules of this thread. */
export const watchModules = (next: ModuleWatch): void => {
  watch = next;
};

export const watched = <T>(sha256: string, seconds: number, work: () => T): T => {
  watch.enters(sha256, seconds);
  try {
    return work();
  } finally {
    watch.leaves();
  }
};

/** So many times its own length may a block take. */
export const TIMES_ITS_LENGTH = 50;

/**
 * A watch over shared memory: the thread notes here what it enters, and whoever looks at it from another thread sees whether it came out
 * again. `[count of entries and exits, how long it may take in ms, the first 32 bits of the module's hash]`.
 */
export const WATCH_WORDS = 3;

/** @param leastMs may any block take, however short: a busy machine rests for longer than one lasts */
export function sharedWatch(words: Int32Array, leastMs: number): ModuleWatch {
  return {
    enters: (sha256, seconds) => {
      words[1] = Math.max(leastMs, 1000 * TIMES_ITS_LENGTH * seconds);
      words[2] = hashWord(sha256);
      Atomics.add(words, 0, 1);
    },
    leaves: () => {
      Atomics.add(words, 0, 1);
    },
  };
}

const hashWord = (sha256: string): number => Number.parseInt(sha256.slice(0, 8), 16) | 0;

/** Looks at a shared watch from outside. */
export class WatchKeeper {
  private seen = 0;
  private sinceMs = 0;

  constructor(private readonly words: Int32Array) {}

  /**
   * Whether a module has been inside for longer than it may; call it several times a second.
   * @param nowMs of any clock that only goes on
   * @returns whether a module of this hash is that one
   */
  overdue(nowMs: number): ((sha256: string) => boolean) | undefined {
    const count = Atomics.load(this.words, 0);
    if (count !== this.seen) {
      this.seen = count;
      this.sinceMs = nowMs;
    }
    if (count % 2 === 0 || nowMs - this.sinceMs <= this.words[1]) return undefined;
    const word = this.words[2];
    return (sha256) => hashWord(sha256) === word;
  }
}

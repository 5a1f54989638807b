/** What threads that have nothing to do wait at. */
export class Bell {
  /** Each with whether it would take work. */
  private readonly waiting = new Map<() => void, boolean>();
  private readonly ringers = new Set<() => void>();

  /** Resolves when it is rung, or when `signal` is aborted. @param isFree whether it would take work by now */
  wait(signal: AbortSignal, isFree: boolean): Promise<void> {
    return new Promise((resolve) => {
      const wake = () => {
        this.waiting.delete(wake);
        signal.removeEventListener('abort', wake);
        resolve();
      };
      if (signal.aborted) return resolve();
      signal.addEventListener('abort', wake);
      this.waiting.set(wake, isFree);
      if (isFree) for (const told of this.ringers) told();
    });
  }

  /** Wakes whoever waits. */
  ring(): void {
    for (const wake of [...this.waiting.keys()]) wake();
  }

  /** Rings once somebody waits who would take work, and resolves then: what tells of work is not spent on a machine that takes none. */
  async ringOnce(): Promise<void> {
    if (![...this.waiting.values()].includes(true))
      await new Promise<void>((resolve) => {
        const told = () => {
          this.ringers.delete(told);
          resolve();
        };
        this.ringers.add(told);
      });
    this.ring();
  }
}

/** What threads that have nothing to do wait at. */
export class Bell {
  private readonly waiting = new Set<() => void>();
  private readonly ringers = new Set<() => void>();

  /** Resolves when it is rung, or when `signal` is aborted. */
  wait(signal: AbortSignal): Promise<void> {
    return new Promise((resolve) => {
      const wake = () => {
        this.waiting.delete(wake);
        signal.removeEventListener('abort', wake);
        resolve();
      };
      if (signal.aborted) return resolve();
      signal.addEventListener('abort', wake);
      this.waiting.add(wake);
      for (const told of this.ringers) told();
    });
  }

  /** Wakes whoever waits. */
  ring(): void {
    for (const wake of [...this.waiting]) wake();
  }

  /** Rings once somebody waits, and resolves then: what tells of work is not spent on a machine that has enough of it. */
  async ringOnce(): Promise<void> {
    if (!this.waiting.size)
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

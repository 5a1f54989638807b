import type { EventBus } from './event-bus.ts';

/** An answer that costs something to put together, kept for as long as nothing changes. */
export class KeptAtMark<Value> {
  private kept: { mark: string; value: Promise<Value> } | undefined;

  /** @param make puts it together, the same for whoever asks; what it gives is shared, and nobody may change it */
  constructor(
    private readonly bus: EventBus,
    private readonly make: () => Promise<Value>,
  ) {}

  get(): Promise<Value> {
    const { mark } = this.bus;
    if (this.kept?.mark !== mark) {
      const made = { mark, value: this.make() };
      this.kept = made;
      made.value.catch(() => {
        if (this.kept === made) this.kept = undefined;
      });
    }
    return this.kept.value;
  }
}

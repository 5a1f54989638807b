import type { ServerEvent } from '@tonos/contract';

type Listener = (event: ServerEvent) => void;

/** Tells everybody who listens what has changed. */
export class EventBus {
  private readonly listeners = new Set<Listener>();

  publish(event: ServerEvent): void {
    for (const listener of this.listeners) listener(event);
  }

  /** @returns what ends the subscription */
  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
}

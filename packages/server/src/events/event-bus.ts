import type { ServerEvent } from '@tonos/contract';

/** @param only the person whom it concerns; undefined for everybody */
type Listener = (event: ServerEvent, only?: string) => void;

/** Tells everybody who listens what has changed. */
export class EventBus {
  private readonly listeners = new Set<Listener>();

  /** Whether anybody listens: what nobody hears need not be looked up. */
  get isHeard(): boolean {
    return this.listeners.size > 0;
  }

  publish(event: ServerEvent, only?: string): void {
    for (const listener of this.listeners) listener(event, only);
  }

  /** @returns what ends the subscription */
  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
}

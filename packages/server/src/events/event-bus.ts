import { randomUUID } from 'node:crypto';
import type { ServerEvent } from '@tonos/contract';

/** @param only the person whom it concerns; undefined for everybody */
type Listener = (event: ServerEvent, only?: string) => void;

/** Tells everybody who listens what has changed. */
export class EventBus {
  private readonly listeners = new Set<Listener>();
  /** Parts of the server that remember something until it changes. */
  private readonly watchers: ((event: ServerEvent) => void)[] = [];
  private readonly start = randomUUID();
  private told = 0;

  /**
   * Another one whenever something was told that a page would ask again: what was answered at one mark still stands where the mark is the
   * same. How far something has come is told again anyway.
   */
  get mark(): string {
    return `${this.start}.${this.told}`;
  }

  /** Whether anybody listens: what nobody hears need not be looked up. */
  get isHeard(): boolean {
    return this.listeners.size > 0;
  }

  publish(event: ServerEvent, only?: string): void {
    this.note(event);
    if (!event.type.endsWith('-progress')) this.told++;
    for (const listener of this.listeners) listener(event, only);
  }

  /** Tells the server's own parts alone. */
  note(event: ServerEvent): void {
    for (const watcher of this.watchers) watcher(event);
  }

  /** For a part of the server, as long as that runs: it hears all, and is nobody who listens. */
  watch(watcher: (event: ServerEvent) => void): void {
    this.watchers.push(watcher);
  }

  /** @returns what ends the subscription */
  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
}

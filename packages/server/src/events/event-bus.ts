import { randomUUID } from 'node:crypto';
import type { ServerEvent } from '@tonos/contract';

/** How far something has come, and who looks at what: pages are told that again and again, and keep nothing that hangs on it. */
const isTransient = ({ type }: ServerEvent): boolean => type.endsWith('-progress') || type === 'presence';

/** @param only the person whom it concerns; undefined for everybody */
type Listener = (event: ServerEvent, only?: string) => void;

/** Tells everybody who listens what has changed. */
export class EventBus {
  private readonly listeners = new Set<Listener>();
  /** Parts of the server that remember something until it changes. */
  private readonly watchers: ((event: ServerEvent) => void)[] = [];
  private readonly start = randomUUID();
  private changes = 0;

  /**
   * Another one whenever something has changed that a page would ask again, whether or not anybody heard of it: what was answered at one
   * mark still stands where the mark is the same.
   */
  get mark(): string {
    return `${this.start}.${this.changes}`;
  }

  /** Whether anybody listens: what nobody hears need not be looked up. */
  get isHeard(): boolean {
    return this.listeners.size > 0;
  }

  publish(event: ServerEvent, only?: string): void {
    this.note(event);
    for (const listener of this.listeners) listener(event, only);
  }

  /** Tells the server's own parts alone. */
  note(event: ServerEvent): void {
    if (!isTransient(event)) this.changes++;
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

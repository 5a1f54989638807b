import type { MeterReading } from '@tonos/core';
import { useSyncExternalStore } from 'react';
import type { Traces } from './engine/messages.ts';

/** What moves with every frame lives beside the store: only what shows it is drawn again. */
function momentary<T>(first: T) {
  let value = first;
  const listeners = new Set<() => void>();
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  };
  return {
    get: () => value,
    set(next: T) {
      if (next === value) return;
      value = next;
      for (const listener of listeners) listener();
    },
    use: () => useSyncExternalStore(subscribe, () => value),
  };
}

const seconds = momentary(0);
const reading = momentary<MeterReading | null>(null);
const traces = momentary<Traces>({});

/** Where the sound is now. */
export const listeningSeconds = seconds.get;
export const setListeningSeconds = seconds.set;
export const useListeningSeconds = seconds.use;

/** What the meters show of it. */
export const setMeterReading = reading.set;
export const useMeterReading = reading.use;

/** What the steps of a chain under work do to it. */
export const setTraces = traces.set;
export const useTraces = traces.use;

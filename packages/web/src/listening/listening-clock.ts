import { useSyncExternalStore } from 'react';

/** Where the sound is now. Moves with every frame, so it lives beside the store: only what shows it is drawn again. */
let seconds = 0;
const listeners = new Set<() => void>();

export function setListeningSeconds(now: number): void {
  seconds = now;
  for (const listener of listeners) listener();
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useListeningSeconds = (): number => useSyncExternalStore(subscribe, () => seconds);

import { useEffect, useState } from 'react';
import { isTyping } from '../ui/is-typing.ts';
import type { ShownPlace } from './places.ts';

const WAITS_MS = 4000;

/**
 * The index key: after `i` the next letter recalls what lies there, and no other key of the page hears it. Escape, any other key or a
 * few seconds end the waiting.
 * @returns whether a letter is waited for
 */
export function useIndexKeys(places: readonly ShownPlace[], onRecall: (place: ShownPlace) => void): boolean {
  const [waiting, setWaiting] = useState(false);
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (!waiting) {
        if (event.key === 'i' && places.length) setWaiting(true);
        return;
      }
      event.preventDefault();
      event.stopImmediatePropagation();
      setWaiting(false);
      const place = places.find(({ letter }) => letter === event.key.toLowerCase());
      if (place) onRecall(place);
    };
    addEventListener('keydown', key, { capture: true });
    const timer = waiting ? setTimeout(() => setWaiting(false), WAITS_MS) : undefined;
    return () => {
      removeEventListener('keydown', key, { capture: true });
      clearTimeout(timer);
    };
  }, [waiting, places, onRecall]);
  return waiting;
}

import { isTyping } from '../ui/is-typing.ts';

/** Where this browser remembers whether keys without Ctrl or Alt do anything. */
export const PLAIN_KEYS = 'tonos.plain-keys';

const isOff = (): boolean => localStorage.getItem(PLAIN_KEYS) === 'false';

/**
 * P21: who speaks to their machine, or rests a hand on the keys, can switch off all keys that are one character alone (WCAG 2.1.4). They
 * are stopped before anything on the page hears of them; the space bar presses buttons and stays.
 */
export function heedPlainKeys(target: Window = window): () => void {
  const stop = (event: KeyboardEvent) => {
    const isPlain = event.key.length === 1 && event.key !== ' ' && !event.ctrlKey && !event.metaKey && !event.altKey;
    if (isPlain && isOff() && !isTyping(event.target)) event.stopImmediatePropagation();
  };
  target.addEventListener('keydown', stop, { capture: true });
  return () => target.removeEventListener('keydown', stop, { capture: true });
}

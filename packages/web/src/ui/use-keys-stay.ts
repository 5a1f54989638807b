import { useEffect } from 'react';

/**
 * A choice that was made by the pointer lets go of the keys: they belong to the page again. Who goes from choice to choice by keys stays
 * in it.
 */
export function useKeysStay(): void {
  useEffect(() => {
    const letGo = ({ detail }: MouseEvent) => {
      if (!detail) return;
      // the choice gets the focus with the click itself
      setTimeout(() => {
        const { activeElement: now } = document;
        if (now instanceof HTMLInputElement && now.type === 'radio') now.blur();
      });
    };
    document.addEventListener('click', letGo);
    return () => document.removeEventListener('click', letGo);
  }, []);
}

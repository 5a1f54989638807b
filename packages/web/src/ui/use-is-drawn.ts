import { startTransition, useEffect, useState } from 'react';

/** Whether what is seen first has been drawn: what lies below it, or is not seen yet, comes behind its frame. */
export function useIsDrawn(): boolean {
  const [isDrawn, setDrawn] = useState(false);
  useEffect(() => {
    const frame = requestAnimationFrame(() => startTransition(() => setDrawn(true)));
    return () => cancelAnimationFrame(frame);
  }, []);
  return isDrawn;
}

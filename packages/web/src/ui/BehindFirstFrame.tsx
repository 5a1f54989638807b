import type { ReactNode } from 'react';
import { useIsDrawn } from './use-is-drawn.ts';

/** What lies below what is seen first, or is not seen yet: a page does not wait for it. */
export const BehindFirstFrame = ({ children }: { children: ReactNode }) => useIsDrawn() && children;

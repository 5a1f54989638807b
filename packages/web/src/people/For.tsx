import type { Role } from '@tonos/contract';
import type { ReactNode } from 'react';
import { useMay } from './use-me.ts';

/** What only a role, and those above it, may do: nobody else is offered it. */
export function For({ least, children }: { least: Role; children: ReactNode }) {
  return useMay(least) ? children : null;
}

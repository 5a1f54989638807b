import type { Trashed } from '@tonos/contract';
import { api } from '../api/api.ts';
import { sayError } from './notify.ts';
import { sayUndo } from './say-undo.tsx';

/** Moves something to the trash, and offers to bring it back. @returns whether it went */
export function useThrowAway(): (what: Trashed, name: string) => Promise<boolean> {
  const [throwAway] = api.useThrowAwayMutation();
  const [restore] = api.useRestoreTrashedMutation();
  return async (what, name) => {
    const { error } = await throwAway(what);
    if (error) {
      sayError(`${name} stays`, error);
      return false;
    }
    sayUndo(`${name} lies in the trash.`, async () => {
      const { error: refused } = await restore(what);
      if (refused) sayError(`${name} was not restored`, refused);
    });
    return true;
  };
}

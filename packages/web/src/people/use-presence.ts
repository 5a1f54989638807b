import type { PersonRef, Whereabouts } from '@tonos/contract';
import { useEffect } from 'react';
import { useMatch } from 'react-router';
import { api } from '../api/api.ts';
import { useMe } from './use-me.ts';

/** The server forgets after 45 s who was not heard of. */
const SAY_EVERY_MS = 20_000;

/** Says where this page is for as long as it is open, so that colleagues see each other. */
export function useBeingThere(): void {
  const me = useMe();
  const [say] = api.useBeThereMutation();
  const titleId = useMatch('/titles/:id/*')?.params.id ?? null;
  const chainId = useMatch('/chains/:id')?.params.id ?? null;
  const isShared = me?.shared ?? false;
  useEffect(() => {
    if (!isShared) return;
    const tell = () => void say({ titleId, chainId });
    tell();
    const timer = setInterval(tell, SAY_EVERY_MS);
    return () => clearInterval(timer);
  }, [isShared, titleId, chainId, say]);
}

/** Colleagues who look at the same title or chain now. */
export function useOthersHere(here: Partial<Whereabouts>): PersonRef[] {
  const me = useMe();
  // who is gone does not say so, and who came while this page began was not told here
  const { data = [] } = api.usePresenceQuery(undefined, { skip: !me?.shared, pollingInterval: SAY_EVERY_MS });
  const there = data.filter(
    ({ titleId, chainId }) => (here.titleId && titleId === here.titleId) || (here.chainId && chainId === here.chainId),
  );
  return [...new Map(there.map(({ person }) => [person.id, person])).values()];
}

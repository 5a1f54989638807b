import type { ProcessorModule } from '@tonos/contract';
import { forgetModule, knowModule } from '@tonos/core';
import { useSyncExternalStore } from 'react';

/** What this page knows of modules: their manifests, as the library has them. Only its workers ever run one. */
let known = new Map<string, string>();
/** Those that did not come back in a worker of this page: it tries them no more until it is loaded again. */
const ended = new Map<string, string>();
let version = 0;
const hearers = new Set<() => void>();

function changed(): void {
  version++;
  for (const hear of hearers) hear();
}

/** Takes what stands in the library. */
export function takeModules(modules: readonly ProcessorModule[]): void {
  const now = new Map(modules.map(({ sha256, manifest }) => [sha256, `${manifest.name} ${manifest.version}`]));
  if (now.size === known.size && [...now.keys()].every((sha256) => known.has(sha256))) return;
  for (const sha256 of known.keys()) if (!now.has(sha256)) forgetModule(sha256);
  for (const { sha256, manifest } of modules) if (!ended.has(sha256)) knowModule({ sha256, manifest });
  known = now;
  changed();
}

/** One did not come back. @returns what is said of it */
export function endModule(isIt: (sha256: string) => boolean): string {
  const sha256 = [...known.keys()].find(isIt);
  const name = known.get(sha256 ?? '') ?? '';
  if (sha256) {
    ended.set(sha256, name);
    forgetModule(sha256);
    changed();
  }
  return `The module \u201c${name}\u201d does not come back, and was ended. Its steps are left out until the page is loaded again.`;
}

export const isEnded = (sha256: string): boolean => ended.has(sha256);

/** Draws anew when a module comes or goes: what is known of steps is another then. @returns a number that changes */
export const useKnownModules = (): number =>
  useSyncExternalStore(
    (hear) => {
      hearers.add(hear);
      return () => hearers.delete(hear);
    },
    () => version,
  );

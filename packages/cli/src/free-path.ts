import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { freeName } from '@tonos/core';

/**
 * Nothing is ever overwritten: a name that is taken gets " (2)".
 * @param promised paths that were given out before, and may not be there yet; the new one is added
 */
export function freePath(folder: string, base: string, ending: string, promised = new Set<string>()): string {
  const isTaken = (name: string) => promised.has(join(folder, name)) || existsSync(join(folder, name));
  const path = join(folder, freeName(base, ending, isTaken));
  promised.add(path);
  return path;
}

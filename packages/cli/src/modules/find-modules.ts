import { createHash } from 'node:crypto';
import { readdir, readFile, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { knowModule, MODULE_LIMITS, type ModuleName, modulesIn, readModuleFile } from '@tonos/core';
import { UsageError } from '../usage-error.ts';

/** A module, and where it lies. */
export type FoundModule = ModuleName & { path: string };

/**
 * Looks for the modules that something names, by their content: in what was given, in TONOS_MODULES and beside the file that names them.
 * Those that are found are known from then on; what is missing is said by whoever configures the chain.
 * @param given files, and folders of them
 */
export async function findModules(
  holder: unknown,
  beside: string,
  given: readonly string[] = [],
): Promise<FoundModule[]> {
  const wanted = new Map(modulesIn(holder).map((one) => [one.sha256, one]));
  const found: FoundModule[] = [];
  if (!wanted.size) return found;
  const environment = process.env.TONOS_MODULES;
  const places = [...given, ...(environment ? [environment] : []), dirname(beside)];
  for (const place of places)
    for (const path of await wasmFilesIn(place, given.includes(place))) {
      const bytes = await readFile(path);
      const sha256 = createHash('sha256').update(bytes).digest('hex');
      const named = wanted.get(sha256);
      if (!named) continue;
      knowModule({ sha256, manifest: readModuleFile(bytes, path).manifest });
      wanted.delete(sha256);
      found.push({ ...named, path });
    }
  return found;
}

async function wasmFilesIn(place: string, isAsked: boolean): Promise<string[]> {
  const about = await stat(place).catch(() => undefined);
  if (!about && isAsked) throw new UsageError(`There is no module or folder of modules "${place}".`);
  if (!about) return [];
  if (about.isFile()) return [place];
  const names = (await readdir(place)).filter((name) => name.endsWith('.wasm')).sort();
  const paths = names.map((name) => join(place, name));
  const sizes = await Promise.all(paths.map(async (path) => (await stat(path)).size));
  return paths.filter((_, i) => sizes[i] <= MODULE_LIMITS.fileBytes);
}

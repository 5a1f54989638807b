import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import {
  type AdjustmentsFile,
  adjustChain,
  adjustmentsFile,
  adjustmentsFor,
  type ChainFile,
  type ConfiguredStep,
  type CutsFile,
  chainFile,
  chainNamesOf,
  configureChain,
  cutsFile,
  type OrderFile,
  orderFaults,
  readOrder,
  refuseOrder,
  SHIPPED_CHAINS,
  SHIPPED_TARGETS,
  type TargetFile,
  targetFile,
  withChains,
} from '@tonos/core';
import * as z from 'zod';
import { beside } from './beside.ts';
import { type FoundModule, findModules } from './modules/find-modules.ts';
import { UsageError } from './usage-error.ts';

/** A chain file by its path or the name of one that ships; one that can't be run is refused. */
export async function loadChainFile(nameOrPath: string, modules?: readonly string[]): Promise<ChainFile> {
  const chain = await load<ChainFile>('chain', nameOrPath, SHIPPED_CHAINS, chainFile);
  await findModules(chain, nameOrPath, modules);
  configured(chain, chain.steps);
  return chain;
}

/** A chain ready to run for each file, with adjustments from a file where one is given. Both are checked before anything is done. */
export async function loadChain(
  nameOrPath: string,
  { adjust: adjustPath, modules }: { adjust?: string; modules?: readonly string[] },
): Promise<{ found: FoundModule[]; chainOf: (file: string) => ChainOfFile }> {
  const chain = await loadChainFile(nameOrPath, modules);
  const adjust: Pick<AdjustmentsFile, 'steps' | 'files'> =
    adjustPath === undefined ? { steps: [] } : await loadAdjustments(adjustPath);
  const fitted = (adjustments: AdjustmentsFile['steps']) => {
    const { steps, misfits } = adjustChain(chain.steps, adjustments);
    if (misfits.length)
      throw new UsageError(
        `The adjustments in ${adjustPath} don't fit the chain "${chain.name}". ${misfits.map(({ message }) => message).join(' ')}`,
      );
    return { steps, configured: configured(chain, steps) };
  };
  for (const one of [adjust, ...Object.values(adjust.files ?? {})]) fitted(one.steps);
  return {
    found: await findModules(chain, nameOrPath, modules),
    chainOf: (file) => fitted(adjustmentsFor({ format: 'tonos.adjustments/1', ...adjust }, file)),
  };
}

/** A chain for one file: as it is written, and ready to run. */
export interface ChainOfFile {
  steps: ChainFile['steps'];
  configured: readonly ConfiguredStep[];
}

function configured({ name }: ChainFile, steps: ChainFile['steps']): readonly ConfiguredStep[] {
  try {
    return configureChain(steps);
  } catch (error) {
    throw new UsageError(`The chain "${name}" can't be run. ${(error as Error).message}`);
  }
}

/** A target by its path or the name of one that ships. */
export const loadTarget = (nameOrPath: string): Promise<TargetFile> =>
  load('target', nameOrPath, SHIPPED_TARGETS, targetFile);

/** A running order by its path, with its chains loaded. What is wrong with it is said before anything is done. */
export async function loadOrder(
  path: string,
  modules?: readonly string[],
): Promise<{ order: OrderFile; found: FoundModule[] }> {
  const order = await readJson('running order', path, { parse: readOrder });
  const chains = new Map<string, ChainFile>();
  for (const name of chainNamesOf(order)) {
    const file = shipped(SHIPPED_CHAINS, name) ? name : beside(path, name);
    if (file === name || existsSync(file)) chains.set(name, await loadChainFile(file, modules));
  }
  await findModules(order, path, modules);
  const whole = usable('running order', path, () => {
    const all = withChains(order, (name) => chains.get(name));
    refuseOrder(orderFaults(all));
    return all;
  });
  return { order: whole, found: await findModules(whole, path, modules) };
}

/** Cuts by hand (`tonos.cuts/1`). */
export const loadCuts = (path: string): Promise<CutsFile> => readJson('cuts', path, cutsFile);

const loadAdjustments = (path: string): Promise<AdjustmentsFile> => readJson('adjustments', path, adjustmentsFile);

async function load<File extends { name: string }>(
  what: string,
  nameOrPath: string,
  ships: readonly File[],
  schema: z.ZodType<File>,
): Promise<File> {
  const named = shipped(ships, nameOrPath);
  if (named) return named;
  const hint = `and none that ships has this name. Shipped: ${ships.map(({ name }) => name).join('; ')}.`;
  return readJson(what, nameOrPath, schema, hint);
}

const shipped = <File extends { name: string }>(ships: readonly File[], wanted: string): File | undefined =>
  ships.find(({ name }) => name.toLowerCase() === wanted.toLowerCase());

async function readJson<File>(
  what: string,
  path: string,
  schema: { parse(json: unknown): File },
  hint = '',
): Promise<File> {
  let text: string;
  try {
    text = await readFile(path, 'utf8');
  } catch {
    throw new UsageError(`There is no ${what} "${path}": no such file${hint ? `, ${hint}` : '.'}`);
  }
  return usable(what, path, () => schema.parse(JSON.parse(text)));
}

function usable<File>(what: string, path: string, read: () => File): File {
  try {
    return read();
  } catch (error) {
    const reason =
      error instanceof z.ZodError
        ? error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join('; ')
        : (error as Error).message;
    throw new UsageError(`The ${what} file ${path} can't be used: ${reason}`);
  }
}

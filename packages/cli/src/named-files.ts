import { readFile } from 'node:fs/promises';
import {
  type ChainFile,
  type ConfiguredStep,
  chainFile,
  configureChain,
  SHIPPED_CHAINS,
  SHIPPED_TARGETS,
  type TargetFile,
  targetFile,
} from '@tonos/core';
import * as z from 'zod';
import { UsageError } from './usage-error.ts';

/** A chain by its path or the name of one that ships, ready to run. */
export async function loadChain(nameOrPath: string): Promise<readonly ConfiguredStep[]> {
  const chain = await load<ChainFile>('chain', nameOrPath, SHIPPED_CHAINS, chainFile);
  try {
    return configureChain(chain.steps);
  } catch (error) {
    throw new UsageError(`The chain "${chain.name}" can't be run. ${(error as Error).message}`);
  }
}

/** A target by its path or the name of one that ships. */
export const loadTarget = (nameOrPath: string): Promise<TargetFile> =>
  load('target', nameOrPath, SHIPPED_TARGETS, targetFile);

async function load<File extends { name: string }>(
  what: string,
  nameOrPath: string,
  shipped: readonly File[],
  schema: z.ZodType<File>,
): Promise<File> {
  const named = shipped.find(({ name }) => name.toLowerCase() === nameOrPath.toLowerCase());
  if (named) return named;
  let text: string;
  try {
    text = await readFile(nameOrPath, 'utf8');
  } catch {
    throw new UsageError(
      `There is no ${what} "${nameOrPath}": no such file, and none that ships has this name. Shipped: ${shipped.map(({ name }) => name).join('; ')}.`,
    );
  }
  try {
    return schema.parse(JSON.parse(text));
  } catch (error) {
    const reason =
      error instanceof z.ZodError
        ? error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join('; ')
        : (error as Error).message;
    throw new UsageError(`The ${what} file ${nameOrPath} can't be used: ${reason}`);
  }
}

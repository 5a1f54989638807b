import { pathOf, ROUTES } from '@tonos/contract';
import { isModuleKnown, knowModule, modulesIn, readModuleFile } from '@tonos/core';

/** The modules that steps name and this thread can't run yet. @param holder whatever holds steps */
export const unknownModules = (holder: unknown): string[] =>
  modulesIn(holder).flatMap(({ sha256 }) => (isModuleKnown(sha256, true) ? [] : [sha256]));

/** Fetches and compiles modules in a worker. One that is not there leaves its steps out, which the page says. */
export async function learnModules(hashes: readonly string[], fetchFile: typeof fetch = fetch): Promise<void> {
  await Promise.all(
    hashes.map(async (sha256) => {
      const answer = await fetchFile(pathOf(ROUTES.moduleFile, { sha256 })).catch(() => undefined);
      if (!answer?.ok) return;
      knowModule({ sha256, ...readModuleFile(new Uint8Array(await answer.arrayBuffer()), sha256) });
    }),
  );
}

/**
 * Passes messages on in their order, each once the modules that its steps name are known here. Where none is missing, at once.
 * @param holderOf what of a message holds steps
 */
export function afterLearning<Message>(
  take: (message: Message) => void,
  holderOf: (message: Message) => unknown,
  learn: (hashes: readonly string[]) => Promise<void> = learnModules,
): (message: Message) => void {
  const waiting: Message[] = [];
  let isLearning = false;
  const goOn = async () => {
    isLearning = true;
    for (let next = waiting[0]; next !== undefined; next = waiting[0]) {
      await learn(unknownModules(holderOf(next))).catch(() => {});
      waiting.shift();
      take(next);
    }
    isLearning = false;
  };
  return (message) => {
    if (!isLearning && !unknownModules(holderOf(message)).length) return take(message);
    waiting.push(message);
    if (!isLearning) void goOn();
  };
}

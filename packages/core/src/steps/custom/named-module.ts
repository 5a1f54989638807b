import * as z from 'zod';

export const CUSTOM = 'custom';

/** Which module a step is: by its content; name and version are for people, where the module is missing. */
export const moduleName = z.strictObject({
  sha256: z.string().regex(/^[0-9a-f]{64}$/, 'the SHA-256 of the module\u2019s file, in hexadecimal'),
  name: z.string().trim().min(1).max(60).default('module'),
  version: z.string().trim().max(30).default(''),
});

export type ModuleName = z.output<typeof moduleName>;

/** The module that a step names, if it is one of a module. */
export function moduleOf({ kind, settings }: { kind: string; settings?: unknown }): ModuleName | undefined {
  if (kind !== CUSTOM) return undefined;
  const parsed = moduleName.safeParse((settings as { module?: unknown } | undefined)?.module);
  return parsed.success ? parsed.data : undefined;
}

/** The modules that steps name, each once. Walks whatever holds steps: a chain, a running order with its chains, a job. */
export function modulesIn(value: unknown, found = new Map<string, ModuleName>()): ModuleName[] {
  if (Array.isArray(value)) for (const one of value) modulesIn(one, found);
  else if (value && typeof value === 'object' && !ArrayBuffer.isView(value)) {
    const named = moduleOf(value as { kind: string });
    if (named) found.set(named.sha256, named);
    else for (const one of Object.values(value)) modulesIn(one, found);
  }
  return [...found.values()];
}

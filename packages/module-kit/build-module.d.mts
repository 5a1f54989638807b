/**
 * Compiles a module of the kit: `folder/index.ts` with `folder/manifest.json` inside it.
 * @throws Error with what the compiler says
 */
export function buildModule(folder: string): Promise<Uint8Array>;

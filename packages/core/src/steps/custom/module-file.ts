import { MANIFEST_SECTION, type ModuleManifest, readManifest } from './manifest.ts';
import { ModuleError } from './module-error.ts';
import { isWebAssembly, memoryLimits, webAssembly } from './web-assembly.ts';

export const MODULE_LIMITS = { fileBytes: 8 * 2 ** 20, memoryBytes: 64 * 2 ** 20 } as const;

const PAGE_BYTES = 65536;

/** A compiled module that keeps to the interface, as far as can be seen without running it. */
export interface ModuleFile {
  manifest: ModuleManifest;
  compiled: object;
}

const ALWAYS = ['prepare', 'input', 'process'];
const WITH_FINDINGS = ['hear', 'conclude', 'finding', 'find'];

/**
 * Reads and compiles a module. Throws a ModuleError that says what it is not.
 * @param name how messages call the file
 */
export function readModuleFile(bytes: Uint8Array, name: string): ModuleFile {
  const refuse = (code: string, why: string): never => {
    throw new ModuleError(code, `${name}: ${why}`);
  };
  if (!isWebAssembly(bytes)) refuse('not-webassembly', 'this is no WebAssembly module. Give the compiled .wasm file.');
  if (bytes.length > MODULE_LIMITS.fileBytes)
    refuse('module-too-large', `the file has ${(bytes.length / 2 ** 20).toFixed(1)} MB, at most 8 MB are allowed.`);
  const compiled = compile(bytes) ?? refuse('not-webassembly', 'the file is damaged: it does not compile.');
  const [first] = webAssembly.Module.imports(compiled);
  if (first)
    refuse(
      'module-imports',
      `it asks for "${first.module}.${first.name}". A module may import nothing; a compiler\u2019s runtime must be inside it.`,
    );
  const [section] = webAssembly.Module.customSections(compiled, MANIFEST_SECTION);
  if (!section) refuse('no-manifest', `it has no section "${MANIFEST_SECTION}" that says what it is.`);
  let manifest: ModuleManifest;
  try {
    manifest = readManifest(new Uint8Array(section));
  } catch (error) {
    if (error instanceof ModuleError) refuse(error.code, error.message);
    throw error;
  }
  const has = new Map(webAssembly.Module.exports(compiled).map((one) => [one.name, one.kind]));
  const wanted = [
    ...ALWAYS,
    ...(manifest.findings.length ? WITH_FINDINGS : []),
    ...(Object.keys(manifest.settings.properties).length ? ['set'] : []),
  ];
  const missing = wanted.filter((one) => has.get(one) !== 'function');
  if (has.get('memory') !== 'memory') missing.push('memory');
  if (missing.length) refuse('missing-exports', `it does not export ${missing.join(', ')}.`);
  const limits = memoryLimits(bytes);
  const mostPages = MODULE_LIMITS.memoryBytes / PAGE_BYTES;
  if (!limits || limits.isShared) refuse('module-memory', 'its memory must be its own.');
  else if (limits.maximumPages === undefined || limits.maximumPages > mostPages)
    refuse('module-memory', `its memory must have a maximum of at most 64 MB (${mostPages} pages).`);
  return { manifest, compiled };
}

function compile(bytes: Uint8Array): object | undefined {
  try {
    return new webAssembly.Module(bytes);
  } catch {
    return undefined;
  }
}

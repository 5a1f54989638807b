/** The part of the open standard WebAssembly that modules need; a library that knows no web and no Node has no types of it. */
export interface WasmMemory {
  readonly buffer: ArrayBuffer;
}

interface WebAssemblyApi {
  Module: {
    new (bytes: Uint8Array): object;
    imports(module: object): { module: string; name: string }[];
    exports(module: object): { name: string; kind: string }[];
    customSections(module: object, name: string): ArrayBuffer[];
  };
  Instance: new (module: object, imports: object) => { exports: unknown };
}

export const webAssembly = (globalThis as unknown as { WebAssembly: WebAssemblyApi }).WebAssembly;

const MAGIC = [0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00];
const MEMORY_SECTION = 5;

export const isWebAssembly = (bytes: Uint8Array): boolean => MAGIC.every((byte, i) => bytes[i] === byte);

/** What a module says of its memory: pages of 64 KiB. */
export interface MemoryLimits {
  initialPages: number;
  /** Not there where it may grow for ever. */
  maximumPages: number | undefined;
  isShared: boolean;
}

/**
 * The limits of the first memory of a valid module, which the engine does not tell: section 5 of the binary format (WebAssembly Core
 * Specification 2.0, 5.5.8), and 5.3.9 for the limits. Undefined where it has none.
 */
export function memoryLimits(bytes: Uint8Array): MemoryLimits | undefined {
  let at = MAGIC.length;
  /** An unsigned LEB128 number. */
  const number = (): number => {
    let value = 0;
    for (let place = 1; ; place *= 128) {
      const byte = bytes[at++];
      value += (byte & 127) * place;
      if (byte < 128) return value;
    }
  };
  while (at < bytes.length) {
    const id = bytes[at++];
    const size = number();
    const end = at + size;
    if (id === MEMORY_SECTION && number() > 0) {
      const flags = bytes[at++];
      const initialPages = number();
      return { initialPages, maximumPages: flags & 1 ? number() : undefined, isShared: (flags & 2) !== 0 };
    }
    at = end;
  }
  return undefined;
}

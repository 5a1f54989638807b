/** The part of the open standard WebAssembly that is used; a library that knows no web and no Node has no types of it. */
interface WebAssemblyApi {
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: object) => { exports: unknown };
}

const api = (globalThis as unknown as { WebAssembly: WebAssemblyApi }).WebAssembly;

/** Compiles a module that is carried as hexadecimal text: the engine reads no files, in the browser or elsewhere. */
export function compiled(hex: string): object {
  const digits = (i: number) => Number.parseInt(hex.slice(2 * i, 2 * i + 2), 16);
  return new api.Module(Uint8Array.from({ length: hex.length / 2 }, (_, i) => digits(i)));
}

/** A fresh instance of a compiled module; what it exports is the caller's to know. */
export const instanceOf = <Exports>(module: object, imports: object = {}): Exports =>
  new api.Instance(module, imports).exports as Exports;

/** The bytes of packages/kernels/assembly, compiled, as hexadecimal text. */
export function compileKernels(): Promise<string>;

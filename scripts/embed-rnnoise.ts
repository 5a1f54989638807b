import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** Writes the module of @echogarden/rnnoise-wasm into core as text: core reads no files, in the browser or elsewhere. Run by hand after an update. */
const bytes = readFileSync(fileURLToPath(import.meta.resolve('@echogarden/rnnoise-wasm/rnnoise.wasm')));
writeFileSync(
  new URL('../packages/core/src/steps/neural-noise-reduction/rnnoise-wasm.ts', import.meta.url),
  `/** RNNoise as WebAssembly, in hexadecimal: @echogarden/rnnoise-wasm 0.2.0 (BSD-3-Clause). Made by scripts/embed-rnnoise.ts. */
// biome-ignore format: one long text
export const RNNOISE_WASM = '${bytes.toString('hex')}';
`,
);

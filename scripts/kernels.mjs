// `npm run kernels`: compiles packages/kernels/assembly and writes the module into packages/kernels/src as text. Run after a change there; a test
// compares both.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const root = join(fileURLToPath(import.meta.url), '../../packages/kernels');

/** 32 MiB that never grow: views of memory stay valid. */
const PAGES = '512';

/** The module's bytes as hexadecimal text. */
export async function compileKernels() {
  let binary;
  const { error, stderr } = await asc.main(
    ['assembly/index.ts', '-O3', '--noAssert', '--runtime', 'stub', '--enable', 'simd', '--use', 'abort='].concat([
      '--initialMemory',
      PAGES,
      '--maximumMemory',
      PAGES,
      '--baseDir',
      root,
      '--outFile',
      'kernels.wasm',
    ]),
    {
      writeFile: (_name, contents) => {
        binary = contents;
      },
    },
  );
  if (error) throw new Error(`The kernels do not compile: ${stderr.toString()}`);
  return Buffer.from(binary).toString('hex');
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const text = await compileKernels();
  writeFileSync(
    join(root, 'src/kernels-wasm.ts'),
    `/** The kernels of ../assembly as WebAssembly, in hexadecimal. Made by \`npm run kernels\`. */
// biome-ignore format: one long text
export const KERNELS_WASM = '${text}';
`,
  );
}

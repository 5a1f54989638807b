// `npm run module -- FOLDER`: compiles FOLDER/index.ts (AssemblyScript), puts FOLDER/manifest.json into it and writes FOLDER/<folder>.wasm.
import { readFileSync, writeFileSync } from 'node:fs';
import { basename, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

/** A module's memory may have no more than 64 MB. */
const MOST_PAGES = '1024';

export async function buildModule(folder) {
  let binary;
  const { error, stderr } = await asc.main(
    [
      ...['index.ts', '-O3', '--noAssert', '--runtime', 'stub', '--enable', 'simd', '--use', 'abort='],
      ...['--maximumMemory', MOST_PAGES, '--baseDir', folder, '--outFile', 'module.wasm'],
    ],
    {
      writeFile: (_name, contents) => {
        binary = contents;
      },
    },
  );
  if (error) throw new Error(`${folder} does not compile: ${stderr.toString()}`);
  const manifest = JSON.stringify(JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')));
  return Uint8Array.from([...binary, ...customSection('tonos.manifest', Buffer.from(manifest))]);
}

/** Section 0 of the binary format: its size, the length of its name, its name, its bytes. */
function customSection(name, bytes) {
  const named = [...unsigned(name.length), ...Buffer.from(name), ...bytes];
  return [0, ...unsigned(named.length), ...named];
}

/** LEB128. */
const unsigned = (value) => (value < 128 ? [value] : [(value % 128) | 128, ...unsigned(Math.floor(value / 128))]);

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const folder = process.argv[2] && resolve(process.argv[2]);
  if (!folder) throw new Error('Name the folder of the module: npm run module -- packages/module-kit/tilt');
  const file = join(folder, `${basename(folder)}.wasm`);
  writeFileSync(file, await buildModule(folder));
  console.log(`Written: ${file}`);
}

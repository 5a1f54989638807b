// `npm run notices`: writes THIRD-PARTY.md, the licences of what ships: all packages below the workspaces' dependencies.
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { project } from './prepare.mjs';

const read = (path) => JSON.parse(readFileSync(path, 'utf8'));
const shipped = new Map();

function visit(name) {
  const folder = join(project, 'node_modules', name);
  if (shipped.has(name) || !existsSync(join(folder, 'package.json'))) return;
  const { version, license, dependencies = {} } = read(join(folder, 'package.json'));
  if (!name.startsWith('@tonos/')) shipped.set(name, { version, license: license ?? 'see its files' });
  for (const dependency of Object.keys(dependencies)) visit(dependency);
}

for (const name of readdirSync(join(project, 'packages'))) {
  if (['e2e', 'bench'].includes(name)) continue;
  for (const dependency of Object.keys(read(join(project, 'packages', name, 'package.json')).dependencies ?? {}))
    visit(dependency);
}
const rows = [...shipped]
  .sort(([a], [b]) => a.localeCompare(b))
  .map(([name, { version, license }]) => `| ${name} | ${version} | ${license} |`);
writeFileSync(
  join(project, 'THIRD-PARTY.md'),
  `# Third-party notices

Tonos is built on these packages. Each comes with its licence text in its own folder. The demo's voices were spoken by Flite
(Carnegie Mellon University, BSD-4-Clause) with noise and rooms of our own; Flite itself does not ship. wasm-media-encoders holds LAME and mpg123-decoder holds mpg123, both LGPL, as WebAssembly modules that
can be replaced. core carries RNNoise as WebAssembly from @echogarden/rnnoise-wasm 0.2.0 (BSD-3-Clause; Mozilla, Jean-Marc Valin, Xiph.Org Foundation, Mark Borgerding); the kernels' module holds the allocator of AssemblyScript's runtime (Apache-2.0); opusscript holds libopus (BSD-3-Clause).

| package | version | licence |
| --- | --- | --- |
${rows.join('\n')}
`,
);

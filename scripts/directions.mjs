// The dependency rule: which package may import which, and that a feature is entered only through its index.ts.
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { project } from './prepare.mjs';

const MAY_IMPORT = {
  kernels: [],
  core: ['kernels'],
  formats: ['core', 'kernels'],
  render: ['core', 'formats'],
  delivery: ['core', 'formats'],
  contract: ['core'],
  server: ['core', 'formats', 'render', 'delivery', 'contract'],
  web: ['core', 'contract'],
  cli: ['core', 'formats', 'render', 'delivery', 'contract'],
  corpus: ['core'],
};
/** What must not be known in these packages at all. */
const FOREIGN = {
  kernels: /^(node:|react|express)/,
  core: /^(node:|react|express)/,
  contract: /^(node:|react|express)/,
  web: /^node:/,
};

/** The folders of core, each of which may import those before it only. */
const CORE_FOLDERS = [
  'signal',
  'settings',
  'dsp',
  'time',
  'measure',
  'steps',
  'chain',
  'boxes',
  'cuts',
  'align',
  'sets',
  'orders',
  'target',
  'propose',
];

/** Steps are known by their traits: only who proposes or ships chains names a kind. Words of everyday use are no sign. */
const EVERYDAY = ['channels', 'gain', 'custom'];
const MAY_NAME_KINDS =
  /^core\/src\/(steps|testing)\/|shipped-(chains|presets)|propose-chain|judge-complaints|^(cli|kernels|corpus|formats|render)\//;

/**
 * The server's folders, each of which may import those before it only. Rows belong to the database: whoever reads them may know an
 * entity, whatever its feature.
 */
const SERVER_FOLDERS = [
  ...['database', 'storage', 'http', 'events', 'workers', 'revisions', 'account', 'people'],
  ...[
    'titles',
    'recordings',
    'sets',
    'chains',
    'orders',
    'targets',
    'presets',
    'thumb-index',
    'modules',
    'outside',
    'runs',
    'inbox',
    'notes',
    'standing',
    'upkeep',
    'demo',
  ],
];
const isEntity = (path) => /-entity\.ts$/.test(path);

const sources = (folder) =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.tsx?$/.test(entry.name) && !/\.test\.tsx?$/.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name));

const kinds = readdirSync(join(project, 'packages/core/src/steps'), { withFileTypes: true })
  .filter((entry) => entry.isDirectory() && !EVERYDAY.includes(entry.name))
  .map(({ name }) => name);

const faults = [];
for (const [name, allowed] of Object.entries(MAY_IMPORT)) {
  const root = join(project, 'packages', name, 'src');
  for (const file of sources(root)) {
    const inTesting = file.includes(join(root, 'testing'));
    const text = readFileSync(file, 'utf8');
    const named = kinds.find((kind) => text.includes(`'${kind}'`));
    if (named && !MAY_NAME_KINDS.test(relative(join(project, 'packages'), file).replaceAll('\\', '/')))
      faults.push(`${relative(project, file)} names the step ${named}: ask for a trait.`);
    for (const [, specifier] of text.matchAll(/(?:from|import)\s*\(?'([^']+)'/g)) {
      const where = relative(project, file);
      const other = /^@tonos\/(\w+)/.exec(specifier)?.[1];
      if (other && !allowed.includes(other))
        faults.push(`${where} imports ${specifier}: ${name} may import ${allowed.join(', ') || 'nothing'}.`);
      if (FOREIGN[name]?.test(specifier) && !inTesting)
        faults.push(`${where} imports ${specifier}, which ${name} must not know.`);
      if (name === 'core' && specifier.startsWith('.')) {
        const folderOf = (path) => CORE_FOLDERS.indexOf(relative(root, path).split(/[\\/]/)[0]);
        const [own, into] = [folderOf(file), folderOf(resolve(dirname(file), specifier))];
        if (own >= 0 && into > own)
          faults.push(`${where} imports ${specifier}: ${CORE_FOLDERS[into]} stands on ${CORE_FOLDERS[own]}.`);
        // a step's definition stands on its other files; a neighbour knows its settings and processor only
        const stepOf = (path) => /^steps[\\/]([a-z-]+)[\\/]([a-z-]+)\.ts$/.exec(relative(root, path));
        const [mine, theirs] = [stepOf(file), stepOf(resolve(dirname(file), specifier))];
        if (mine && theirs && mine[1] === theirs[1] && theirs[2] === theirs[1])
          faults.push(`${where} imports its own definition: what both need belongs into settings.ts.`);
        if (mine && theirs && mine[1] !== theirs[1] && !['settings', 'processor'].includes(theirs[2]))
          faults.push(`${where} reaches into the step ${theirs[1]}.`);
      }
      if (name === 'server' && specifier.startsWith('.') && !isEntity(specifier)) {
        const folderOf = (path) => SERVER_FOLDERS.indexOf(relative(root, path).split(/[\\/]/)[0]);
        const [own, into] = [folderOf(file), folderOf(resolve(dirname(file), specifier))];
        if (own >= 0 && into > own)
          faults.push(`${where} imports ${specifier}: ${SERVER_FOLDERS[into]} stands on ${SERVER_FOLDERS[own]}.`);
      }
      if (name === 'web' && specifier.startsWith('.')) {
        const from = /^features\/([^/]+)/.exec(relative(root, file))?.[1];
        const target = relative(root, resolve(dirname(file), specifier));
        const into = /^features\/([^/]+)\/(.*)$/.exec(target);
        const entry = into && (into[2] === 'index.ts' || into[2].endsWith('-slice.ts'));
        if (into && into[1] !== from && !(entry && from === undefined))
          faults.push(`${where} reaches into the feature ${into[1]}.`);
      }
    }
  }
}
for (const fault of faults) console.error(fault);
process.exitCode = faults.length ? 1 : 0;

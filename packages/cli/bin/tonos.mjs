#!/usr/bin/env node
// Starts the built command; builds it first where that has not happened yet.
import { spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const here = (path) => new URL(path, import.meta.url);
const built = here('../dist/main.js');
if (!existsSync(built)) {
  const project = fileURLToPath(here('../../..'));
  const compiler = fileURLToPath(here('../../../node_modules/typescript/bin/tsc'));
  const { status } = spawnSync(process.execPath, [compiler, '-b', 'packages/cli'], {
    cwd: project,
    stdio: ['ignore', 2, 2],
  });
  if (status !== 0) process.exit(2);
}
/** The bundle starts sooner; what has been compiled since counts more. */
const bundle = here('../dist/bundle/tonos.js');
const changedMs = (file) => statSync(file, { throwIfNoEntry: false })?.mtimeMs ?? 0;
const compiled = ['kernels', 'core', 'formats', 'contract', 'render', 'delivery', 'cli'].map((name) =>
  here(`../../${name}/tsconfig.tsbuildinfo`),
);
const isCurrent = compiled.every((file) => changedMs(file) <= changedMs(bundle));
await import(existsSync(bundle) && isCurrent ? bundle.href : built.href);

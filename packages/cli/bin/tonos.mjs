#!/usr/bin/env node
// Starts the built command; builds it first where that has not happened yet.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const built = new URL('../dist/main.js', import.meta.url);
if (!existsSync(built)) {
  const project = fileURLToPath(new URL('../../..', import.meta.url));
  const compiler = fileURLToPath(new URL('../../../node_modules/typescript/bin/tsc', import.meta.url));
  const { status } = spawnSync(process.execPath, [compiler, '-b', 'packages/cli'], {
    cwd: project,
    stdio: ['ignore', 2, 2],
  });
  if (status !== 0) process.exit(2);
}
await import(built.href);

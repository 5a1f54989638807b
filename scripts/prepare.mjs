import { spawnSync } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ifChanged } from './stamp.mjs';

export const project = dirname(dirname(fileURLToPath(import.meta.url)));

/** Runs a program in the project and ends everything where it fails. */
export function run(command, args, options = {}) {
  const { status } = spawnSync(command, args, { cwd: project, stdio: 'inherit', ...options });
  if (status !== 0) {
    console.error(`${[command, ...args].join(' ')} failed.`);
    process.exit(status ?? 1);
  }
}

const LOOK_EVERY_MS = 1000;

/** npm hands a signal to its shell alone: when that is gone, this ends as if it had got the signal itself. */
export function endWithParent() {
  const parent = process.ppid;
  setInterval(() => process.ppid !== parent && process.kill(process.pid, 'SIGTERM'), LOOK_EVERY_MS).unref();
}

const bin = (name) => join(project, 'node_modules/.bin', name);
const at = (path) => join(project, path);

/** Installs what the lock file names, unless that is in place. */
export function install() {
  ifChanged(at('.tonos-installed'), [at('package-lock.json')], () => {
    console.error('Installing packages ...');
    run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  });
}

/** Compiles packages and builds the page, unless nothing has changed since. */
export function build() {
  ifChanged(
    at('.tonos-built'),
    [at('packages'), at('tsconfig.json'), at('tsconfig.base.json'), at('package-lock.json')],
    () => {
      console.error('Building ...');
      run(bin('tsc'), [
        '-b',
        'packages/kernels',
        'packages/core',
        'packages/formats',
        'packages/contract',
        'packages/server',
        'packages/cli',
      ]);
      run(process.execPath, [at('scripts/bundle-command.mjs')]);
      run(bin('vite'), ['build', '--logLevel', 'warn'], { cwd: at('packages/web') });
    },
  );
}

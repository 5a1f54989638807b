import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { TonosError } from '@tonos/core';
import { failed } from '../each-file.ts';
import { EXIT } from '../exit-status.ts';
import { ChainTasks } from '../modules/in-thread.ts';

/** Whether a module keeps the step contract: each promise, and what fails. @returns the exit status: 0, 1 where one fails, 3 for what is no module */
export async function moduleCheck(path: string, { json }: { json?: boolean }): Promise<number> {
  let bytes: Buffer;
  try {
    bytes = await readFile(path);
  } catch {
    failed(path, new TonosError('no-file', `${path}: there is no such file.`));
    return EXIT.unprocessed;
  }
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  // of itself it is not known yet how it is called
  const tasks = new ChainTasks([{ sha256, path, name: path, version: '' }]);
  try {
    const { manifest, checks, seconds } = await tasks.run('check-module', { path, sha256 });
    const fails = checks.filter((check) => check.fails !== null);
    const { name, version } = manifest;
    const text = json
      ? JSON.stringify({ file: path, sha256, name, version, checks, seconds }, undefined, 2)
      : [
          `${name} ${version}, ${sha256}`,
          ...checks.map(
            (check) =>
              `  ${check.fails === null ? 'yes' : 'NO '}  it ${check.promise}${check.fails ? `. ${check.fails}` : ''}`,
          ),
          fails.length
            ? `${fails.length} of ${checks.length} promises are not kept.`
            : `It keeps all ${checks.length} promises.`,
        ].join('\n');
    process.stdout.write(`${text}\n`);
    return fails.length ? EXIT.offTarget : EXIT.within;
  } catch (error) {
    failed(path, error);
    return error instanceof TonosError && error.code === 'module-hangs' ? EXIT.offTarget : EXIT.unprocessed;
  } finally {
    tasks.close();
  }
}

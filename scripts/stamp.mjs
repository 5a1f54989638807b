import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** A digest of all files under the given paths, by name and content. Built and installed folders are left out. */
export function digestOf(paths) {
  const hash = createHash('sha256');
  const visit = (path) => {
    if (!existsSync(path)) return;
    if (!statSync(path).isDirectory()) return void hash.update(path).update(readFileSync(path));
    for (const name of readdirSync(path).sort())
      if (!['node_modules', 'dist', 'dist-types'].includes(name) && !name.endsWith('.tsbuildinfo'))
        visit(join(path, name));
  };
  for (const path of paths) visit(path);
  return hash.digest('hex');
}

/** Does the work where what it depends on has changed since it was last done. */
export function ifChanged(stampFile, paths, work) {
  const digest = digestOf(paths);
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === digest) return;
  work();
  writeFileSync(stampFile, digest);
}

import { existsSync } from 'node:fs';
import { dirname, resolve } from 'node:path';

/** A path that a file names: as it is, or beside that file. */
export const beside = (naming: string, path: string): string =>
  existsSync(path) ? path : resolve(dirname(naming), path);

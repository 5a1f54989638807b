import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { freeName } from '@tonos/core';

/** Nothing is ever overwritten: a name that is taken gets " (2)". */
export const freePath = (folder: string, base: string, ending: string): string =>
  join(
    folder,
    freeName(base, ending, (name) => existsSync(join(folder, name))),
  );

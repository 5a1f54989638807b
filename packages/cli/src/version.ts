import { existsSync, readFileSync } from 'node:fs';

/** Beside this file's folder, or one further up where the command is bundled. */
const PACKAGE = ['../package.json', '../../package.json']
  .map((path) => new URL(path, import.meta.url))
  .find((file) => existsSync(file))!;

/** The version that deliveries and reports name. */
export const VERSION = (JSON.parse(readFileSync(PACKAGE, 'utf8')) as { version: string }).version;

import { readFileSync } from 'node:fs';

/** The version that deliveries and reports name. */
export const VERSION = (
  JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as { version: string }
).version;

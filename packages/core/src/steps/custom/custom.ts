import * as z from 'zod';
import { defineStep, noTrace } from '../step.ts';
import { CUSTOM, moduleName } from './named-module.ts';

/** A step whose module is still to be chosen: it leaves the sound as it is. One that names a module is made by `moduleStep`. */
export const custom = defineStep({
  kind: CUSTOM,
  title: 'Module',
  group: 'tone',
  summary: 'A process of your own: a WebAssembly module from the library.',
  words: ['module', 'own', 'custom', 'webassembly', 'plug in', 'house'],
  settings: z.strictObject({
    module: moduleName.nullable().default(null).meta({ title: 'Module', description: 'By the SHA-256 of its file.' }),
  }),
  describe: () => 'no module chosen',
  start: () => ({ latencyFrames: 0, process: () => {}, update: () => {}, takeTrace: noTrace }),
});

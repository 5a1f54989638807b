export {
  code,
  handmadeManifest,
  handmadeModule,
  INPUT_AT,
  KEEP_SETTING,
  TIMES_SETTING,
  wasmTypes,
} from './handmade-module.ts';
export { memorySurroundings, processBlock, type StepSketch } from './process.ts';
export { babble, joined, levelDb, mixed, noise, rmsOf, sine } from './signals.ts';

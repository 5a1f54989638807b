export { memorySurroundings, processBlock, type StepSketch } from './process.ts';
export { babble, joined, levelDb, mixed, noise, rmsOf, sine } from './signals.ts';

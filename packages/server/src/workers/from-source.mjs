// Starts the worker from its TypeScript source, under `npm run dev`: threads do not inherit the loader of tsx.
import { register } from 'tsx/esm/api';

register();
await import('./audio-worker.ts');

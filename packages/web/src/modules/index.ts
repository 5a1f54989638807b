export { isEnded, takeModules, useKnownModules } from './known-modules.ts';
export { WatchedWorker } from './watched-worker.ts';

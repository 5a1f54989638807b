// Starts the thread from its TypeScript source: threads do not inherit the loader of tsx.
import { register } from 'tsx/esm/api';

register();
export default (await import('./reader-thread.ts')).default;

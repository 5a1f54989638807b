// Starts the thread from its TypeScript source: threads do not inherit the loader of tsx.
import { register } from 'tsx/esm/api';

register();
const thread = await import('./reader-thread.ts');
export const beginLog = thread.beginLog;
export default thread.default;

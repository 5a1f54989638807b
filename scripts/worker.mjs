// `npm run worker`: installs, builds, and works along with a server, in the foreground.
import { build, install } from './prepare.mjs';

install();
build();
await import('../packages/server/dist/worker.js');

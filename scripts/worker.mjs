// `npm run worker`: installs, builds, and works along with a server, in the foreground.
import { build, endWithParent, install } from './prepare.mjs';

endWithParent();
install();
build();
await import('../packages/server/dist/worker.js');

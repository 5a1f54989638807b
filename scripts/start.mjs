// `npm start`: installs, builds, and serves in the foreground.
import { build, endWithParent, install } from './prepare.mjs';

endWithParent();
install();
build();
await import('../packages/server/dist/main.js');

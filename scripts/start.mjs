// `npm start`: installs, builds, and serves in the foreground.
import { build, install } from './prepare.mjs';

install();
build();
await import('../packages/server/dist/main.js');

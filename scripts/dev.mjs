// `npm run dev`: the server restarts and the page reloads as sources change.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { install, project } from './prepare.mjs';

install();
const start = (command, args, cwd) => spawn(command, args, { cwd, stdio: 'inherit' });
const bin = (name) => join(project, 'node_modules/.bin', name);
const parts = [
  start(
    bin('tsx'),
    ['watch', '--tsconfig', 'packages/server/tsconfig.json', '--conditions=source', 'packages/server/src/main.ts'],
    project,
  ),
  start(bin('vite'), [], join(project, 'packages/web')),
];
const stop = () => {
  for (const part of parts) part.kill();
};
process.on('SIGINT', stop).on('SIGTERM', stop);
for (const part of parts) part.on('exit', stop);

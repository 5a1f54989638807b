// `npm run check`: types, lint and format, dead code, the dependency rule.
import { join } from 'node:path';
import { install, project, run } from './prepare.mjs';

const bin = (name) => join(project, 'node_modules/.bin', name);

install();
run(bin('tsc'), ['-b']);
run(bin('tsc'), ['-p', 'tsconfig.tests.json']);
run(bin('biome'), ['check', '.']);
run(bin('knip'), []);
run(process.execPath, [join(project, 'scripts/directions.mjs')]);

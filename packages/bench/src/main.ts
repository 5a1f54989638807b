import { join } from 'node:path';
import { compare } from './compare.ts';
import { meterSuite } from './meter-suite.ts';
import { report } from './report.ts';
import type { Suite } from './suite.ts';

/** `npm run bench`: how fast we are, as a ratio to a peer in the same run. */
const ROUNDS = 5;
const recording = join(import.meta.dirname, '../../../demo/recordings/The Salt Road Almanac/01 The salt road.flac');

const suites: Suite[] = [meterSuite(recording, 20.3)].filter((suite) => suite !== undefined);
if (!suites.length) console.error('There is no peer to measure against: install Debian\u2019s package "ffmpeg".');
for (const suite of suites) console.log(report([await compare(suite, ROUNDS)]));

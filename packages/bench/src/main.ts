import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { babble, mixed, noise } from '@tonos/core/testing';
import { ByteWriter, writeWav } from '@tonos/formats';
import { compare } from './compare.ts';
import { meterSuite } from './meter-suite.ts';
import { report } from './report.ts';

/** `npm run bench`: how fast we are, as a ratio to a peer in the same run. */
const ROUNDS = 5;
const SECONDS = 60;
const RATE = 48000;

const folder = mkdtempSync(join(tmpdir(), 'tonos-bench-'));
try {
  const path = join(folder, 'voice.wav');
  const voice = mixed(babble(SECONDS, RATE), noise(0.0005, SECONDS, RATE)).map((x) => 0.4 * x);
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz: RATE, channels: 2 }, bitDepth: 16 });
  await writer.write([voice, voice]);
  await writer.finish();
  await bytes.close();
  const headerBytes = statSync(path).size - SECONDS * RATE * 4;
  const suite = meterSuite(path, headerBytes, SECONDS, folder);
  if (suite) console.log(report([await compare(suite, ROUNDS)]));
  else
    console.error(
      'There is no peer to measure against: install a C compiler and Debian\u2019s package "libebur128-dev".',
    );
} finally {
  rmSync(folder, { recursive: true });
}

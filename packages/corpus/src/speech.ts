import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';

export type Voice = 'slt' | 'rms' | 'awb';

/** Flite's own rate. */
export const SPEECH_RATE = 16000;

const WAV_HEADER_BYTES = 44;
const TRIES = 4;
const FLITE = fileURLToPath(new URL('./flite.mjs', import.meta.url));
/** What was spoken once is kept beside the packages it came from. */
const KEPT = fileURLToPath(new URL('../../../node_modules/.cache/tonos-speech', import.meta.url));

/** One sentence as samples at 16 kHz. */
export async function speak(voice: Voice, sentence: string): Promise<Float32Array> {
  const path = join(KEPT, `${createHash('sha256').update(`${voice} ${sentence}`).digest('hex').slice(0, 24)}.wav`);
  const wav = await readFile(path).catch(() => spoken(voice, sentence, path));
  return Float32Array.from(
    { length: (wav.length - WAV_HEADER_BYTES) >> 1 },
    (_, i) => wav.readInt16LE(WAV_HEADER_BYTES + 2 * i) / 32768,
  );
}

async function spoken(voice: Voice, sentence: string, path: string): Promise<Buffer> {
  for (let left = TRIES; ; left--) {
    try {
      const { stdout } = await promisify(execFile)(process.execPath, ['--no-warnings', FLITE, voice, sentence], {
        encoding: 'buffer',
        maxBuffer: 64e6,
      });
      await mkdir(dirname(path), { recursive: true });
      const temporary = `${path}.${process.pid}`;
      await writeFile(temporary, stdout);
      await rename(temporary, path);
      return stdout;
    } catch (error) {
      if (left === 1) throw error;
    }
  }
}

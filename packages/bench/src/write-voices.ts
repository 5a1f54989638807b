import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { babble, noise } from '@tonos/core/testing';
import { ByteWriter, writeWav } from '@tonos/formats';

const RATE = 44100;
/** Stretches of it are what the voices say: each begins elsewhere. */
const SPARE_SECONDS = 35;

/** Many recordings of one voice in a folder. @returns their names */
export async function writeVoices(
  folder: string,
  { count, seconds }: { count: number; seconds: number },
): Promise<string[]> {
  await mkdir(folder, { recursive: true });
  const voice = babble(seconds + SPARE_SECONDS, RATE);
  const room = noise(0.0004, seconds, RATE);
  const files = Array.from({ length: count }, (_, i) => `${String(i + 1).padStart(4, '0')}.wav`);
  for (const [i, file] of files.entries()) {
    const from = Math.floor((i / count) * SPARE_SECONDS * RATE);
    const bytes = await ByteWriter.create(join(folder, file));
    const writer = await writeWav(bytes, { format: { sampleRateHz: RATE, channels: 1 }, bitDepth: 16 });
    await writer.write([room.map((x, n) => x + 0.3 * voice[from + n])]);
    await writer.finish();
    await bytes.close();
  }
  return files;
}

import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ByteWriter, writeWav } from '@tonos/formats';

/** The command as people call it: built, in a process of its own. */
const BIN = join(import.meta.dirname, '../../bin/tonos.mjs');

/** Runs it in a folder. */
export const commandIn =
  (folder: () => string) =>
  (...args: string[]) => {
    const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], { cwd: folder(), encoding: 'utf8' });
    return { status, stdout, stderr, json: <T = Record<string, unknown>[]>() => JSON.parse(stdout) as T };
  };

export function writtenTo(path: string, content: unknown): string {
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content));
  return path;
}

/** A WAV file of 16 bits. */
export async function saved(path: string, samples: Float32Array, sampleRateHz = 24000): Promise<string> {
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz, channels: 1 }, bitDepth: 16 });
  await writer.write([samples]);
  await writer.finish();
  await bytes.close();
  return path;
}

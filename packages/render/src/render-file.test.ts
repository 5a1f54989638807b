import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { configureChain, SHIPPED_TARGETS } from '@tonos/core';
import { babble, mixed, noise } from '@tonos/core/testing';
import { ByteWriter, openAudio, writeWav } from '@tonos/formats';
import { measureFile, renderFile } from './index.ts';

const RATE = 48000;
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-test-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function writeVoice(name: string, seconds: number): Promise<string> {
  const path = join(folder, name);
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz: RATE, channels: 1 }, bitDepth: 24 });
  await writer.write([mixed(babble(seconds, RATE), noise(0.0005, seconds, RATE))]);
  await writer.finish();
  await bytes.close();
  return path;
}

it('lands the decoded MP3 on the target, exactly as long as the source, and leaves no spool behind', async () => {
  const sourcePath = await writeVoice('voice.wav', 8);
  const target = SHIPPED_TARGETS.find(({ name }) => name === 'Podcast, mono');
  const outputPath = join(folder, 'voice.mp3');
  const chain = configureChain([{ kind: 'high-pass', on: true, mix: 1, settings: {} }]);
  const result = await renderFile({ sourcePath, name: 'voice.wav', chain, target, outputPath, spoolFolder: folder });
  expect(result.verdict).toBe('within');
  expect(result.after.integratedLufs).toBeCloseTo(-19, 1);
  expect(result.after.durationSeconds).toBeCloseTo(8, 4);
  expect(result.after.container).toBe('mp3');
  expect((await readdir(folder)).filter((name) => name.endsWith('.part'))).toEqual([]);
});

it('measures a WAV as it was written: facts and length', async () => {
  const { measurement } = await measureFile(await writeVoice('facts.wav', 2));
  expect(measurement).toMatchObject({
    sampleRateHz: RATE,
    channels: 1,
    bitDepth: 24,
    container: 'wav',
    codec: 'pcm',
    durationSeconds: 2,
  });
});

it('says that a file is no sound, naming it', async () => {
  await expect(openAudio(import.meta.filename)).rejects.toThrow(/render-file\.test\.ts is no sound file/);
});

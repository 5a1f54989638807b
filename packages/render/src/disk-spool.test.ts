import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { configureChain, SHIPPED_TARGETS, type StepReport } from '@tonos/core';
import { babble, noise } from '@tonos/core/testing';
import { ByteWriter, openAudio, writeWav } from '@tonos/formats';
import { DiskSpool } from './disk-spool.ts';
import { renderFile } from './index.ts';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-spool-'));
});
afterEach(() => rm(folder, { recursive: true }));

const STEREO = { sampleRateHz: 8000, channels: 2 };

describe('DiskSpool', () => {
  const given = (frames: readonly number[]) =>
    frames.map((count, i) => [noise(0.1, count / 8000, 8000, i + 1), noise(3, count / 8000, 8000, i + 9)]);

  /** Reads all of it, as those do who work in the block itself. */
  async function readAndSpoilt(spool: DiskSpool): Promise<Float32Array[][]> {
    const back: Float32Array[][] = [];
    for await (const block of spool.blocks()) {
      back.push(block.map((channel) => channel.slice()));
      for (const channel of block) channel.fill(9);
    }
    return back;
  }

  // the last ones go over the room of 32,768 samples: by many blocks, by one that is larger alone, by one behind those that fill it to the end
  it.each([
    [[100, 1, 5000, 0, 77], 0],
    [Array.from({ length: 60 }, (_, i) => 4000 + i), 1],
    [[10, 200_000, 20], 1],
    [[8192, 8192, 1], 1],
  ])('gives back every block, bit for bit, as often as it is asked (%#)', async (frames, files) => {
    const spool = new DiskSpool(STEREO, join(folder, 'a.part'));
    const blocks = given(frames);
    const lent = blocks.map((block) => block.map((channel) => channel.slice()));
    for (const block of lent) {
      await spool.write(block);
      // the block is its writer's again
      for (const channel of block) channel.fill(7);
    }
    for (let round = 0; round < 3; round++) expect(await readAndSpoilt(spool)).toEqual(blocks);
    expect(await readdir(folder)).toHaveLength(files);
    for await (const _ of spool.blocks()) break;
    await spool.discard();
    expect(await readdir(folder)).toEqual([]);
  });

  it('is read by two at once', async () => {
    const spool = new DiskSpool(STEREO, join(folder, 'a.part'));
    const blocks = given([90_000, 90_000, 90_000]);
    for (const block of blocks) await spool.write(block);
    expect(await Promise.all([readAndSpoilt(spool), readAndSpoilt(spool)])).toEqual([blocks, blocks]);
    await spool.discard();
  });

  it('tells where it can\u2019t be written', async () => {
    const spool = new DiskSpool(STEREO, join(folder, 'nowhere', 'a.part'));
    await expect(
      (async () => {
        for (const block of given([100_000, 100_000])) await spool.write(block);
        for await (const _ of spool.blocks()) expect(_).toBeUndefined();
      })(),
    ).rejects.toThrow(/ENOENT/);
    await spool.discard();
  });
});

describe('renderFile', () => {
  const target = SHIPPED_TARGETS.find(({ name }) => name === 'Broadcast, EBU R 128')!;
  const chain = (...kinds: string[]) => configureChain(kinds.map((kind) => ({ kind, on: true, mix: 1, settings: {} })));

  async function written(samples: Float32Array[], rate = 16000): Promise<string> {
    const path = join(folder, 'source.wav');
    const bytes = await ByteWriter.create(path);
    const writer = await writeWav(bytes, { format: { sampleRateHz: rate, channels: samples.length }, bitDepth: 16 });
    await writer.write(samples);
    await writer.finish();
    await bytes.close();
    return path;
  }
  const job = (sourcePath: string) => ({
    sourcePath,
    name: 'source.wav',
    chain: chain('high-pass', 'noise-reduction'),
    target,
    outputPath: join(folder, 'out.wav'),
    spoolFolder: folder,
  });

  it('leaves neither output nor spools where it is cancelled', async () => {
    const controller = new AbortController();
    const path = await written([babble(6, 16000)]);
    const rendering = renderFile({ ...job(path), signal: controller.signal, progress: () => controller.abort() });
    await expect(rendering).rejects.toThrow(/abort/i);
    expect(await readdir(folder)).toEqual(['source.wav']);
  });

  it('refuses silence by name and leaves nothing behind', async () => {
    const path = await written([new Float32Array(16000)]);
    await expect(renderFile(job(path))).rejects.toMatchObject({ code: 'silence' });
    expect(await readdir(folder)).toEqual(['source.wav']);
  });

  it('tells what its steps found, keeps both channels, and comes to an end of its progress in order', async () => {
    const shares: number[] = [];
    const voice = babble(5, 16000).map((x) => 0.2 * x + 0.001 * Math.sin(x * 1e6));
    const path = await written([voice, voice.map((x) => 0.5 * x)]);
    const { findings, after, verdict } = await renderFile({ ...job(path), progress: (share) => shares.push(share) });
    expect(findings.map(({ kind }: StepReport) => kind)).toEqual(['high-pass', 'noise-reduction', 'finish']);
    expect(after).toMatchObject({ channels: 2, sampleRateHz: 48000 });
    expect(Math.abs(after.durationSeconds - 5)).toBeLessThan(1e-6);
    expect(verdict).toBe('within');
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    const back = await openAudio(join(folder, 'out.wav'));
    expect(back.facts).toMatchObject({ bitDepth: 24, container: 'wav' });
    await back.close();
  });
});

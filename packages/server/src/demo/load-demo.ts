import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { recordingKind, titleDetails } from '@tonos/contract';
import { type OrderFile, orderFile, SHIPPED_CHAINS } from '@tonos/core';
import * as z from 'zod';
import type { ChainService } from '../chains/chain-service.ts';
import type { ModuleService } from '../modules/module-service.ts';
import type { OrderService } from '../orders/order-service.ts';
import type { PresetService } from '../presets/preset-service.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import type { RunService } from '../runs/run-service.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { TargetService } from '../targets/target-service.ts';
import type { ThumbIndex } from '../thumb-index/thumb-index.ts';
import type { TitleService } from '../titles/title-service.ts';

/** demo.json: the titles, their files in order, and the run that shows how a finished one looks. */
const demoFile = z.object({
  titles: z.array(
    z.object({
      name: z.string(),
      kind: z.enum(['podcast', 'audiobook']),
      recordings: z.array(z.string()),
      chain: z.string(),
      target: z.string(),
      run: z.boolean(),
      details: titleDetails.partial(),
      /** Music and sounds. */
      shelf: z
        .array(
          z.object({
            file: z.string(),
            kind: recordingKind,
            licence: z.string(),
            loop: z.object({ startSeconds: z.number(), endSeconds: z.number() }).optional(),
          }),
        )
        .default([]),
      /** Places, by the name of their file. */
      marks: z.record(z.string(), z.array(z.object({ name: z.string(), startSeconds: z.number() }))).default({}),
      /** Running orders, in which recordings are called by the names of their files. */
      orders: z.array(orderFile).default([]),
    }),
  ),
  /** Modules of the kit. */
  modules: z.array(z.string()).default([]),
  /** Letters of the thumb index, each with the name of a chain or a preset. */
  index: z.array(
    z.object({ letter: z.string(), name: z.string(), chain: z.string().optional(), preset: z.string().optional() }),
  ),
});

interface DemoNeeds {
  store: BlobStore;
  titles: TitleService;
  recordings: RecordingService;
  chains: ChainService;
  orders: OrderService;
  targets: TargetService;
  runs: RunService;
  presets: PresetService;
  index: ThumbIndex;
  modules: ModuleService;
}

/** Loads the demo where nothing is there yet. */
export async function loadDemo(
  folder: string,
  { store, titles, recordings, chains, orders, targets, runs, presets, index, modules }: DemoNeeds,
): Promise<void> {
  if ((await titles.list()).length || (await chains.list()).length) return;
  const demo = demoFile.parse(JSON.parse(await readFile(join(folder, 'demo.json'), 'utf8')));
  for (const chain of SHIPPED_CHAINS) await chains.add(chain);
  const chainIds = new Map((await chains.list()).map(({ name, id }) => [name, id]));
  const targetIds = new Map((await targets.list()).map(({ name, id }) => [name, id]));
  for (const { name, kind, recordings: files, chain, target, run, details, shelf, marks, orders: own } of demo.titles) {
    const { id: titleId } = await titles.add({ name, kind });
    const received = [];
    for (const file of [...files, ...shelf.map((one) => one.file)])
      received.push({ ...(await store.receive(createReadStream(join(folder, file)))), name: basename(file) });
    const all = await recordings.add(titleId, received);
    const added = all.slice(0, files.length);
    const idOf = new Map(all.map(({ id, name: fileName }) => [fileName, id]));
    for (const { file, kind: sounds, licence, loop = null } of shelf)
      await recordings.mark(idOf.get(basename(file))!, { kind: sounds, licence, loop });
    for (const [file, places] of Object.entries(marks))
      for (const [i, place] of places.entries())
        await recordings.setPart(idOf.get(file)!, 'marks', {
          id: `break-${i + 1}`,
          ...place,
          endSeconds: place.startSeconds,
        });
    for (const order of own) await orders.add(titleId, withIds(order, idOf));
    const chainId = chainIds.get(chain)!;
    const targetId = targetIds.get(target)!;
    await titles.change(titleId, { chainId, targetId, details });
    if (run) await runs.start({ titleId, recordingIds: added.map(({ id }) => id), chainId, targetId });
  }
  for (const file of demo.modules) await modules.add(await readFile(join(folder, file)), basename(file));
  const presetIds = new Map((await presets.list()).map(({ name, id }) => [name, id]));
  for (const { letter, name, chain, preset } of demo.index) {
    const content = chain
      ? { kind: 'chain' as const, chainId: chainIds.get(chain)! }
      : { kind: 'preset' as const, presetId: presetIds.get(preset!)! };
    await index.put(letter, { name, content });
  }
}

/** With the recordings of its parts by their ids. */
const withIds = (order: OrderFile, idOf: ReadonlyMap<string, string>): OrderFile => ({
  ...order,
  parts: order.parts.map((part) => ({
    ...part,
    ...('recording' in part.source && { source: { ...part.source, recording: idOf.get(part.source.recording)! } }),
  })),
});

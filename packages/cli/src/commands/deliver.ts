import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { judge, safeName } from '@tonos/core';
import { bagOf, type DeliveryReport, reportTexts } from '@tonos/delivery';
import { measureFile } from '@tonos/render';
import { eachFile, failureText, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { freePath } from '../free-path.ts';
import { loadTarget } from '../named-files.ts';
import { print } from '../output/print.ts';
import { UsageError } from '../usage-error.ts';
import { VERSION } from '../version.ts';

export interface DeliverOptions {
  target: string;
  out: string;
  title?: string;
  json?: boolean;
}

async function sha256Of(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path)) hash.update(chunk as Buffer);
  return hash.digest('hex');
}

/** Packs the files that are within a target as a ZIP that holds a BagIt bag, with a report on all of them. @returns the exit status */
export async function deliver(files: readonly string[], options: DeliverOptions): Promise<number> {
  const target = await loadTarget(options.target);
  const title = options.title ?? 'Delivery';
  const names = files.map((file) => basename(file).toLowerCase());
  const twice = files.find((_, i) => names.indexOf(names[i]) !== i);
  if (twice) throw new UsageError(`Two files are called ${basename(twice)}: a delivery has room for one of that name.`);
  await mkdir(options.out, { recursive: true }).catch((cause) => {
    throw new UsageError(`The folder ${options.out} can't be written to. Choose another with --out.`, { cause });
  });
  const results = await eachFile(files, async (file) => {
    const { measurement } = await measureFile(file, { name: file });
    const { verdict, limits } = judge(target.limits, measurement);
    return { verdict, limits, after: measurement, sha256: await sha256Of(file), sizeBytes: (await stat(file)).size };
  });
  const createdAt = new Date().toISOString();
  const report: DeliveryReport = {
    version: VERSION,
    title,
    chain: null,
    target: target.name,
    createdAt,
    items: results.map((result) => {
      const name = basename(result.file);
      const nothing = { name, sourceSha256: '', output: null, outputSha256: null, before: null, accepted: null };
      if (isFailure(result)) return { ...nothing, status: 'failed', after: null, limits: [], error: result.error };
      const { verdict, limits, after, sha256 } = result;
      const within = verdict === 'within';
      const delivered = within ? { output: name, outputSha256: sha256 } : {};
      return { ...nothing, sourceSha256: sha256, status: verdict, ...delivered, after, limits, error: null };
    }),
  };
  const packed = results.flatMap((result) =>
    isFailure(result) || result.verdict !== 'within'
      ? []
      : [{ name: basename(result.file), path: result.file, sha256: result.sha256, sizeBytes: result.sizeBytes }],
  );
  const texts = await reportTexts({ format: 'tonos.report/1', ...report });
  const bagName = safeName(title, 'Delivery');
  const path = freePath(options.out, bagName, '.zip');
  await pipeline(
    bagOf(bagName, packed, texts, { version: VERSION, description: title, createdAt }),
    createWriteStream(path, { flags: 'wx' }),
  );
  print(results, options.json, (result) =>
    isFailure(result)
      ? failureText(result)
      : `${result.file}: ${result.verdict === 'within' ? `in ${path}` : 'off target, left out'}`,
  );
  return exitStatus(results);
}

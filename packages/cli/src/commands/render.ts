import { rm } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { NO_CHOICE } from '@tonos/core';
import { readNotes, writerOf } from '@tonos/formats';
import { measureFile, renderFile } from '@tonos/render';
import { cutsByFile } from '../cuts-by-file.ts';
import { eachFile, failureText, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { freePath } from '../free-path.ts';
import { makeFolders } from '../make-folders.ts';
import { loadChain, loadTarget } from '../named-files.ts';
import { limitsText } from '../output/figures.ts';
import { print } from '../output/print.ts';
import { VERSION } from '../version.ts';

export interface RenderOptions {
  chain: string;
  target?: string;
  adjust?: string;
  cuts?: string;
  out: string;
  json?: boolean;
}

/** Runs a chain over each file and writes what comes out. @returns the exit status */
export async function render(files: readonly string[], options: RenderOptions): Promise<number> {
  const chain = await loadChain(options.chain, options.adjust);
  const target = options.target === undefined ? undefined : await loadTarget(options.target);
  const cutsOf = await cutsByFile(options.cuts);
  const ending = target ? writerOf(target.output).ending : '.wav';
  // spools lie beside the outputs: there is room for those too
  const spoolFolder = await makeFolders(options.out);
  const controller = new AbortController();
  const stop = () => controller.abort();
  process.once('SIGINT', stop).once('SIGTERM', stop);
  try {
    const results = await eachFile(files, async (file) => {
      controller.signal.throwIfAborted();
      const started = performance.now();
      const { measurement: before } = await measureFile(file, { name: file, signal: controller.signal });
      const outputPath = freePath(options.out, basename(file, extname(file)), ending);
      const { after, findings, verdict, limits, timeMap } = await renderFile({
        sourcePath: file,
        name: file,
        // ranges that the file itself names; boxes and room tone by hand belong to the server
        byHand: { ...(await readNotes(file)), boxes: [], roomTone: NO_CHOICE, ...cutsOf(file) },
        notes: { software: `Tonos ${VERSION}`, title: basename(file, extname(file)) },
        chain: chain(file),
        target,
        outputPath,
        spoolFolder,
        signal: controller.signal,
      });
      return {
        output: outputPath,
        before,
        after,
        findings,
        verdict,
        limits,
        timeMap,
        seconds: (performance.now() - started) / 1000,
      };
    });
    print(results, options.json, (result) =>
      isFailure(result)
        ? failureText(result)
        : [
            `${result.file} -> ${result.output}${result.verdict ? `: ${result.verdict}` : ''}`,
            limitsText(result.limits),
          ]
            .filter(Boolean)
            .join('\n'),
    );
    return exitStatus(results);
  } finally {
    await rm(spoolFolder, { recursive: true, force: true });
  }
}

import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type AdjustmentsFile,
  adjustmentsFile,
  type ChainFile,
  complaintText,
  type Measurement,
  NO_CHOICE,
  proposeChain,
  type StepAdjustment,
  stepOf,
} from '@tonos/core';
import { readNotes } from '@tonos/formats';
import { type Foretold, measureFile } from '@tonos/render';
import { eachFile, type FileError, failureText, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { makeFolders } from '../make-folders.ts';
import { findModules } from '../modules/find-modules.ts';
import { ChainTasks } from '../modules/in-thread.ts';
import { loadChainFile, loadTarget } from '../named-files.ts';
import { limitsText } from '../output/figures.ts';

export interface ProposeOptions {
  target: string;
  chain?: string;
  /** Where modules are looked for. */
  modules?: string[];
  out: string;
  json?: boolean;
}

/** Hears the files, proposes one chain that suits them and what single files need otherwise, and foretells each. @returns the exit status */
export async function propose(files: readonly string[], options: ProposeOptions): Promise<number> {
  const target = await loadTarget(options.target);
  const kept = options.chain === undefined ? undefined : await loadChainFile(options.chain, options.modules);
  const tasks = new ChainTasks(kept ? await findModules(kept, options.chain!, options.modules) : []);
  const folder = await makeFolders(options.out);
  try {
    const heard = await eachFile(files, async (file) => (await measureFile(file, { name: file })).measurement);
    const sounds = heard.flatMap((one) => (isFailure(one) ? [] : [one]));
    const proposal = proposeChain(sounds, target);
    const chain = kept ?? proposal.chain;
    const own = new Map(sounds.map(({ file }, i) => [file, kept ? [] : proposal.adjustments[i]]));
    const asked = await eachFile(
      sounds.map(({ file }) => file),
      async (file): Promise<Foreseen> => {
        const { adjustments, forecast, sentence } = await tasks.run('remedy', {
          sourcePath: file,
          name: file,
          steps: chain.steps,
          target,
          folder,
          byHand: { ...(await readNotes(file)), boxes: [], roomTone: NO_CHOICE },
          adjustments: own.get(file)!,
        });
        if (adjustments.length) own.set(file, adjustments);
        const { complaints } = sounds.find((one) => one.file === file)!;
        return { complaints, forecast: { ...forecast, sentence } };
      },
    );
    // in the order that they were named
    const results = heard.map((one) => (isFailure(one) ? one : asked.find(({ file }) => file === one.file)!));
    const adjust = adjustmentsOf(own);
    await writeFile(join(options.out, 'proposal.chain.json'), `${JSON.stringify(chain, undefined, 2)}\n`);
    await writeFile(join(options.out, 'proposal.adjust.json'), `${JSON.stringify(adjust, undefined, 2)}\n`);
    const text = options.json
      ? JSON.stringify({ chain, adjust, files: results }, undefined, 2)
      : textOf(chain, results);
    process.stdout.write(`${text}\n`);
    return exitStatus(results.map((one) => (isFailure(one) ? one : { file: one.file, ...one.forecast })));
  } finally {
    tasks.close();
    await rm(folder, { recursive: true, force: true });
  }
}

/** What a file is like, and what it would come out as. */
interface Foreseen {
  complaints: Measurement['complaints'];
  forecast: Foretold & { sentence: string };
}

const adjustmentsOf = (own: ReadonlyMap<string, StepAdjustment[]>): AdjustmentsFile =>
  adjustmentsFile.parse({
    files: Object.fromEntries([...own].filter(([, steps]) => steps.length).map(([file, steps]) => [file, { steps }])),
  });

function textOf(chain: ChainFile, results: readonly (FileError | ({ file: string } & Foreseen))[]): string {
  const steps = chain.steps.map(
    (step, i) => `${i + 1}. ${stepOf(step)?.title ?? step.kind}${step.note ? `: ${step.note}` : ''}`,
  );
  const files = results.map((result) => {
    if (isFailure(result)) return failureText(result);
    const complaints = result.complaints.map((one) => `  ${complaintText(one)}`);
    return [`${result.file}: ${result.forecast.verdict}`, ...complaints, limitsText(result.forecast.limits)]
      .filter(Boolean)
      .join('\n');
  });
  return [chain.name, ...steps, '', ...files].join('\n');
}

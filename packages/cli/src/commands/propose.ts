import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type AdjustmentsFile,
  adjustmentsFile,
  type ChainFile,
  COMPLAINTS,
  figure,
  type Measurement,
  NO_CHOICE,
  proposeChain,
  type StepAdjustment,
} from '@tonos/core';
import { findRemedy, foretell, measureFile, readNotes } from '@tonos/formats';
import { eachFile, failureText, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { loadChainFile, loadTarget } from '../named-files.ts';
import { limitsText } from '../output/figures.ts';
import { makeFolders } from './render.ts';

export interface ProposeOptions {
  target: string;
  chain?: string;
  out: string;
  json?: boolean;
}

/** Hears the files, proposes one chain that suits them and what single files need otherwise, and foretells each. @returns the exit status */
export async function propose(files: readonly string[], options: ProposeOptions): Promise<number> {
  const target = await loadTarget(options.target);
  const kept = options.chain === undefined ? undefined : await loadChainFile(options.chain);
  const folder = await makeFolders(options.out);
  try {
    const heard = await eachFile(files, async (file) => (await measureFile(file, { name: file })).measurement);
    const sounds = heard.flatMap((one) => (isFailure(one) ? [] : [one as { file: string } & Measurement]));
    const proposal = proposeChain(sounds, target);
    const chain: ChainFile = kept ?? proposal.chain;
    const own = new Map<string, StepAdjustment[]>(
      sounds.map(({ file }, i) => [file, kept ? [] : proposal.adjustments[i]]),
    );
    const results = await eachFile(files, async (file) => {
      const failed = heard.find((one) => one.file === file && isFailure(one));
      if (failed && isFailure(failed)) return failed;
      const question = {
        sourcePath: file,
        name: file,
        steps: chain.steps,
        target,
        folder,
        byHand: { ...(await readNotes(file)), boxes: [], roomTone: NO_CHOICE },
        adjustments: own.get(file)!,
      };
      const remedy = await findRemedy(question);
      if (remedy.adjustments.length) own.set(file, remedy.adjustments);
      const { verdict, limits } = remedy.forecast.verdict === 'within' ? remedy.forecast : await foretell(question);
      const { complaints } = sounds.find((one) => one.file === file)!;
      return { complaints, forecast: { verdict, limits, sentence: remedy.sentence }, verdict };
    });
    const adjust: AdjustmentsFile = adjustmentsFile.parse({
      files: Object.fromEntries([...own].filter(([, steps]) => steps.length).map(([file, steps]) => [file, { steps }])),
    });
    await writeFile(join(options.out, 'proposal.chain.json'), `${JSON.stringify(chain, undefined, 2)}\n`);
    await writeFile(join(options.out, 'proposal.adjust.json'), `${JSON.stringify(adjust, undefined, 2)}\n`);
    if (options.json)
      process.stdout.write(`${JSON.stringify({ chain, adjust, files: results.map(withoutVerdict) }, undefined, 2)}\n`);
    else process.stdout.write(`${textOf(chain, kept ? {} : proposal.reasons, results)}\n`);
    return exitStatus(results);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

const withoutVerdict = (result: object): object => {
  const { verdict: _, ...rest } = result as { verdict?: string };
  return rest;
};

type Results = Awaited<
  ReturnType<
    typeof eachFile<{
      complaints: Measurement['complaints'];
      forecast: { verdict: string; limits: Parameters<typeof limitsText>[0]; sentence: string };
    }>
  >
>;

function textOf(chain: ChainFile, reasons: Record<string, string>, results: unknown): string {
  const steps = chain.steps.map(
    ({ id, kind }, i) => `${i + 1}. ${kind}${reasons[id ?? ''] ? `: ${reasons[id!]}` : ''}`,
  );
  const files = (results as Results).map((result) => {
    if (isFailure(result)) return failureText(result);
    const complaints = result.complaints.map(
      ({ code, amount, unit }) => `  ${COMPLAINTS[code].title.toLowerCase()}: ${figure(amount)} ${unit}`,
    );
    return [`${result.file}: ${result.forecast.verdict}`, ...complaints, limitsText(result.forecast.limits)]
      .filter(Boolean)
      .join('\n');
  });
  return [chain.name, ...steps, '', ...files].join('\n');
}

import { judge } from '@tonos/core';
import { measureFile } from '@tonos/render';
import { eachFile, failureText, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { loadTarget } from '../named-files.ts';
import { limitsText } from '../output/figures.ts';
import { print } from '../output/print.ts';

/** The verdict of each file as it is. @returns the exit status */
export async function check(files: readonly string[], options: { target: string; json?: boolean }): Promise<number> {
  const target = await loadTarget(options.target);
  const results = await eachFile(files, async (file) =>
    judge(target.limits, (await measureFile(file, { name: file })).measurement),
  );
  print(results, options.json, (result) =>
    isFailure(result) ? failureText(result) : `${result.file}: ${result.verdict}\n${limitsText(result.limits)}`,
  );
  return exitStatus(results);
}

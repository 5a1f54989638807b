import { measureFile } from '@tonos/render';
import { eachFile, failureText, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { measurementText } from '../output/figures.ts';
import { print } from '../output/print.ts';

/** Every measure of each file. @returns the exit status */
export async function measure(files: readonly string[], { json }: { json?: boolean }): Promise<number> {
  const results = await eachFile(files, async (file) => (await measureFile(file, { name: file })).measurement);
  print(results, json, (result) => (isFailure(result) ? failureText(result) : measurementText(result.file, result)));
  return exitStatus(results);
}

import { TonosError } from '@tonos/core';

export type FileError = { file: string; error: { code: string; message: string } };

/** Does the same with every file, in order. One that fails keeps its place, and says why on standard error; the others go on. */
export async function eachFile<Result extends object>(
  files: readonly string[],
  work: (file: string) => Promise<Result>,
): Promise<(({ file: string } & Result) | FileError)[]> {
  const results: (({ file: string } & Result) | FileError)[] = [];
  for (const [index, file] of files.entries()) {
    if (process.stderr.isTTY) process.stderr.write(`${index + 1} of ${files.length}: ${file}\n`);
    try {
      results.push({ file, ...(await work(file)) });
    } catch (error) {
      results.push(failed(file, error));
    }
  }
  return results;
}

/** What stands in a file's place, and is said on standard error. */
export function failed(file: string, error: unknown): FileError {
  const known = error instanceof TonosError;
  const reason = (error as Error).message.replaceAll('\n', ' ');
  const message = reason.includes(file) || (known && 'file' in error.details) ? reason : `${file}: ${reason}`;
  process.stderr.write(`${message}\n`);
  return { file, error: { code: known ? error.code : 'internal', message } };
}

export const isFailure = (result: object): result is FileError => 'error' in result;

export const failureText = ({ file, error }: FileError): string => `${file}\n  ${error.message}`;

import { figure } from '@tonos/core';
import { alignFiles } from '@tonos/render';
import { type FileError, failed, failureText, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { print } from '../output/print.ts';

/** Where recordings of one session lie on the time of the first. @returns the exit status */
export async function align(files: readonly string[], { json }: { json?: boolean }): Promise<number> {
  const places = await alignFiles(files.map((path) => ({ path, name: path })));
  const results = files.map((file, i) => {
    const place = places[i];
    return place.status === 'fulfilled' ? { file, ...place.value } : (failed(file, place.reason) as FileError);
  });
  print(results, json, (result) =>
    isFailure(result)
      ? failureText(result)
      : `${result.file}\n  offset ${figure(result.offsetSeconds, 4)} s, drift ${figure(result.driftPpm, 1)} ppm, confidence ${figure(result.confidence, 2)}`,
  );
  return exitStatus(results);
}

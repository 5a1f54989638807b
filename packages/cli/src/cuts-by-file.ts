import { existsSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { cutsFor, type TimeCut } from '@tonos/core';
import { loadCuts } from './named-files.ts';

interface CutsOfFile {
  cuts: readonly TimeCut[];
  pickUps: Record<string, { path: string; name: string }>;
}

/** What a file of cuts has for each recording. A pick-up's recording is a path: as it is, or beside the file of cuts. */
export async function cutsByFile(cutsPath: string | undefined): Promise<(file: string) => CutsOfFile> {
  if (cutsPath === undefined) return () => ({ cuts: [], pickUps: {} });
  const loaded = await loadCuts(cutsPath);
  const placeOf = (path: string) => (existsSync(path) ? path : resolve(dirname(cutsPath), path));
  return (file) => {
    const cuts = cutsFor(loaded, file);
    const ids = cuts.flatMap((cut) => (cut.kind === 'pick-up' ? [cut.recordingId] : []));
    const pickUps = ids.map((id) => [id, { path: placeOf(id), name: basename(id) }] as const);
    return { cuts, pickUps: Object.fromEntries(pickUps) };
  };
}

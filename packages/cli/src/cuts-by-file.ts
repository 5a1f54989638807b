import { basename } from 'node:path';
import { cutsFor, type TimeCut } from '@tonos/core';
import { beside } from './beside.ts';
import { loadCuts } from './named-files.ts';

interface CutsOfFile {
  cuts: readonly TimeCut[];
  pickUps: Record<string, { path: string; name: string }>;
}

/** What a file of cuts has for each recording. A pick-up's recording is a path: as it is, or beside the file of cuts. */
export async function cutsByFile(cutsPath: string | undefined): Promise<(file: string) => CutsOfFile> {
  if (cutsPath === undefined) return () => ({ cuts: [], pickUps: {} });
  const loaded = await loadCuts(cutsPath);
  return (file) => {
    const cuts = cutsFor(loaded, file);
    const ids = cuts.flatMap((cut) => (cut.kind === 'pick-up' ? [cut.recordingId] : []));
    const pickUps = ids.map((id) => [id, { path: beside(cutsPath, id), name: basename(id) }] as const);
    return { cuts, pickUps: Object.fromEntries(pickUps) };
  };
}

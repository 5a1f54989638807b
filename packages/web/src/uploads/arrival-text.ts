import type { Recording } from '@tonos/contract';

/** What to say when files have come in: how many, and how many hold a sound that is here already. */
export function arrivalText(added: readonly Recording[], known: readonly Recording[]): string {
  const hashes = new Set(known.map(({ sha256 }) => sha256));
  let again = 0;
  for (const { sha256 } of added) {
    if (hashes.has(sha256)) again++;
    hashes.add(sha256);
  }
  const came = `${added.length} ${added.length === 1 ? 'file has' : 'files have'} come in.`;
  if (!again) return came;
  if (added.length === 1)
    return `${came} It holds the same sound as a recording that is here already; the file is stored once.`;
  return `${came} ${again} of them ${again === 1 ? 'holds' : 'hold'} a sound that is here already; each file is stored once.`;
}

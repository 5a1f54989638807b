import type { ChainSummary } from '@tonos/contract';

/** Chains by what was typed: every word of it is in the name, a tag, the notes or a title that uses it. Starred ones first. */
export function findChains(chains: readonly ChainSummary[], typed: string, archived: boolean): ChainSummary[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return chains
    .filter((chain) => chain.archived === archived)
    .filter(({ name, tags, notes, usedBy }) => {
      const text = [name, ...tags, notes, ...usedBy.titles.map((title) => title.name)].join(' ').toLowerCase();
      return words.every((word) => text.includes(word));
    })
    .toSorted((a, b) => Number(b.starred) - Number(a.starred));
}

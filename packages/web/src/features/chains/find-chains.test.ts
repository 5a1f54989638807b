import type { ChainSummary } from '@tonos/contract';
import { findChains } from './find-chains.ts';

const chain = (name: string, part: Partial<ChainSummary> = {}) =>
  ({
    name,
    tags: [],
    notes: '',
    starred: false,
    archived: false,
    usedBy: { titles: [], runs: 0, lastRunAt: null },
    ...part,
  }) as unknown as ChainSummary;
const CHAINS = [
  chain('Booth', { tags: ['narration'] }),
  chain('Van', { starred: true, notes: 'For the road.' }),
  chain('Old', { archived: true }),
  chain('Street', { usedBy: { titles: [{ id: 't', name: 'Night Ferry' }], runs: 2, lastRunAt: null } }),
];
const names = (typed: string, archived = false) => findChains(CHAINS, typed, archived).map(({ name }) => name);

it('finds by name, tag, notes and title; starred ones come first, archived ones by themselves', () => {
  expect(names('')).toEqual(['Van', 'Booth', 'Street']);
  expect(names('narr')).toEqual(['Booth']);
  expect(names('road the')).toEqual(['Van']);
  expect(names('ferry')).toEqual(['Street']);
  expect(names('nothing')).toEqual([]);
  expect(names('', true)).toEqual(['Old']);
});

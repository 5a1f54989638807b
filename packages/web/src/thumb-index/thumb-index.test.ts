import type { IndexPlace } from '@tonos/contract';
import type { ChainStep } from '@tonos/core';
import { fittingSteps } from './fitting-steps.ts';
import { keepOwnPlaces, ownPlaces, shownPlaces } from './places.ts';

const place = (letter: string, name: string): IndexPlace => ({
  letter,
  name,
  content: { kind: 'chain', chainId: name },
});
const step = (kind: string, id: string | undefined, settings: Record<string, unknown> = {}): ChainStep => ({
  kind,
  on: true,
  mix: 1,
  settings,
  ...(id && { id }),
});

describe('places', () => {
  it('are shown by letter, a personal one over the shared one', () => {
    const shown = shownPlaces([place('c', 'shared c'), place('a', 'shared a')], [place('c', 'own c')]);
    expect(shown.map(({ letter, name, own }) => [letter, name, own])).toEqual([
      ['a', 'shared a', false],
      ['c', 'own c', true],
    ]);
  });

  it('come back as they were kept; what is something else counts as none', () => {
    const storage = new Map<string, string>();
    const as = {
      getItem: (key: string) => storage.get(key) ?? null,
      setItem: (key: string, value: string) => void storage.set(key, value),
    };
    expect(ownPlaces(as)).toEqual([]);
    keepOwnPlaces([place('q', 'quiet')], as);
    expect(ownPlaces(as)).toEqual([place('q', 'quiet')]);
    for (const broken of ['{', '[{"letter":"1"}]', 'null']) {
      storage.set('tonos.index', broken);
      expect(ownPlaces(as)).toEqual([]);
    }
  });
});

describe('fittingSteps', () => {
  const chain = [step('high-pass', 'a'), step('compressor', 'b'), step('compressor', 'c')];

  it('gives each step to the first of its kind that is free', () => {
    const { adjustments, missing } = fittingSteps(chain, [
      step('compressor', undefined, { ratio: 2 }),
      step('compressor', undefined, { ratio: 4 }),
    ]);
    expect(adjustments).toEqual([
      { id: 'b', settings: { ratio: 2 } },
      { id: 'c', settings: { ratio: 4 } },
    ]);
    expect(missing).toEqual([]);
  });

  it('names what the chain does not have', () => {
    expect(fittingSteps(chain, [step('de-esser', undefined), step('unheard-of', undefined)])).toEqual({
      adjustments: [],
      missing: ['De-esser', 'unheard-of'],
    });
  });
});

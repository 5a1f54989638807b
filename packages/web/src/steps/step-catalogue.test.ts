import { STEPS } from '@tonos/core';
import { defaultsOf, findKinds, findPresets, settingsOf } from './step-catalogue.ts';

it('finds a step by what is wrong with the sound', () => {
  expect(findKinds('hiss').map(({ kind }) => kind)).toContain('noise-reduction');
  expect(findKinds('too sh').map(({ kind }) => kind)).toEqual(['parametric-eq', 'de-esser']);
  expect(findKinds('xyzzy')).toEqual([]);
});

it('lists every kind where nothing was typed', () => {
  expect(findKinds(' ').length).toBe(STEPS.length);
});

it.each(STEPS.map(({ kind }) => [kind]))(
  '%s: the defaults that a form starts with are the defaults of the step',
  (kind) => {
    const { settings } = STEPS.find((step) => step.kind === kind)!;
    // which module one is, is chosen and not set
    const { module: _, ...defaults } = settings.parse({});
    expect(defaultsOf(settingsOf({ kind }))).toEqual(defaults);
  },
);

it('finds presets by their names and tags', () => {
  const presets = [
    { name: 'Boxy room', tags: ['small room'] },
    { name: 'Clip-on under cloth', tags: [] },
  ];
  expect(findPresets(presets, 'small').map(({ name }) => name)).toEqual(['Boxy room']);
  expect(findPresets(presets, 'clo clip').map(({ name }) => name)).toEqual(['Clip-on under cloth']);
  expect(findPresets(presets, 'loud')).toEqual([]);
});

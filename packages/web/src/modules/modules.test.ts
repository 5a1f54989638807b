import type { ProcessorModule } from '@tonos/contract';
import { forgetModule, isModuleKnown, moduleManifest, stepOf } from '@tonos/core';
import { handmadeManifest, handmadeModule } from '@tonos/core/testing';
import { describeStep, nameOfStep } from '../steps/describe-step.ts';
import { namedAs, settingsWith } from '../steps/ModuleField.tsx';
import { settingsOf } from '../steps/step-catalogue.ts';
import { endModule, takeModules } from './known-modules.ts';
import { afterLearning, learnModules, unknownModules } from './learn-modules.ts';

const hash = (digit: string) => digit.repeat(64);
const tiltDb = (minimum: number, maximum: number) => ({
  settings: { properties: { tiltDb: { type: 'number', title: 'Tilt', unit: 'dB', minimum, maximum, default: 0 } } },
});
const library = (digit: string, more: object = {}): ProcessorModule => ({
  id: digit,
  sha256: hash(digit),
  manifest: moduleManifest.parse({ ...handmadeManifest, ...more }),
  bytes: 100,
  fileName: 'a.wasm',
  author: '',
  createdAt: '2026-12-01T00:00:00Z',
  usedBy: { chains: [], orders: [], presets: 0 },
});
const step = (digit: string, more = {}) => ({
  kind: 'custom',
  on: true,
  mix: 1,
  settings: { module: { sha256: hash(digit), name: 'Handmade', version: '1.0' }, ...more },
});
afterEach(() => {
  takeModules([]);
  for (const digit of 'abcd') forgetModule(hash(digit));
});

describe('what the page knows', () => {
  it('is what stands in the library: settings as a form has them, and missing where it went', () => {
    expect(describeStep(step('a'))).toEqual({
      text: '“Handmade” 1.0 is not in the library here. The step is kept as it is.',
      wrong: true,
    });
    takeModules([library('a', tiltDb(-3, 3))]);
    expect(describeStep(step('a', { tiltDb: 2 }))).toEqual({ text: 'tilt +2.0 dB', wrong: false });
    expect(settingsOf(step('a'))).toEqual([
      ['tiltDb', expect.objectContaining({ minimum: -3, maximum: 3, unit: 'dB' })],
    ]);
    takeModules([library('b')]);
    expect([stepOf(step('a')), nameOfStep(step('a'))]).toEqual([undefined, 'Handmade']);
  });

  it('one that did not come back is left out, and said so, also when the library is told again', () => {
    takeModules([library('c')]);
    expect(endModule((sha256) => sha256 === hash('c'))).toMatch(/“Handmade 1\.0” does not come back/);
    takeModules([library('c'), library('b')]);
    expect(describeStep(step('c')).text).toMatch(/did not come back, and was ended/);
    expect(stepOf(step('b'))).toBeDefined();
  });

  it('another version takes the settings that it may have', () => {
    takeModules([library('a', tiltDb(-3, 3)), library('b', tiltDb(-12, 12))]);
    const [narrow, wide] = [library('a', tiltDb(-3, 3)), library('b', tiltDb(-12, 12))].map(namedAs);
    expect(settingsWith(wide, { module: narrow, tiltDb: 2 })).toEqual({ module: wide, tiltDb: 2 });
    expect(settingsWith(narrow, { module: wide, tiltDb: 9 })).toEqual({ module: narrow, tiltDb: 0 });
  });
});

describe('what a worker learns', () => {
  it('fetches and compiles what it lacks, once; one that is not there stays unknown', async () => {
    const asked: unknown[] = [];
    const answer = async (path: unknown) => {
      asked.push(path);
      return String(path).includes(hash('a'))
        ? new Response(Buffer.from(handmadeModule()))
        : new Response('', { status: 404 });
    };
    await learnModules(unknownModules([step('a'), step('d')]), answer as typeof fetch);
    expect(asked).toEqual([`/api/modules/${hash('a')}/file`, `/api/modules/${hash('d')}/file`]);
    expect([isModuleKnown(hash('a'), true), isModuleKnown(hash('d'))]).toEqual([true, false]);
    expect(unknownModules([step('a'), step('d')])).toEqual([hash('d')]);
  });

  it('messages keep their order, and those that lack nothing wait for nobody', async () => {
    const taken: string[] = [];
    let done: () => void = () => {};
    const learn = () =>
      new Promise<void>((resolve) => {
        done = resolve;
      });
    const take = afterLearning(
      (message: { name: string; steps: unknown }) => taken.push(message.name),
      ({ steps }) => steps,
      learn,
    );
    take({ name: 'first', steps: [] });
    take({ name: 'second', steps: [step('d')] });
    take({ name: 'third', steps: [] });
    expect(taken).toEqual(['first']);
    done();
    await new Promise((resolve) => setTimeout(resolve));
    done();
    await new Promise((resolve) => setTimeout(resolve));
    expect(taken).toEqual(['first', 'second', 'third']);
  });
});

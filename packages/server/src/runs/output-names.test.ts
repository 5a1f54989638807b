import { SHIPPED_TARGETS } from '@tonos/core';
import type { RecordingEntity } from '../recordings/recording-entity.ts';
import { deliveredNames } from './output-names.ts';

const recording = (name: string, position: number) =>
  ({ name, position, tags: {}, speaker: '' }) as unknown as RecordingEntity;
const recordings = [recording('a.wav', 1), recording('b.flac', 2)];
const target = SHIPPED_TARGETS.find(({ name }) => name === 'Podcast, mono')!;

const chapters = { count: 12, trackOf: ({ position }: { position: number }) => position };

it('names by the target\u2019s template, and says which names would be alike', () => {
  const named = (naming?: string) =>
    deliveredNames({ recordings, target: { ...target, naming }, titleName: 'Low: Water', chapters });
  expect(named()).toEqual({ names: ['a.mp3', 'b.mp3'], collisions: [] });
  expect(named('{album} {track}')).toEqual({ names: ['Low Water 01.mp3', 'Low Water 02.mp3'], collisions: [] });
  expect(named('{album}')).toEqual({
    names: ['Low Water.mp3', 'Low Water (2).mp3'],
    collisions: ['Low Water (2).mp3'],
  });
  // a dot in a template is no ending
  expect(named('{track}. {name} v1.5').names[0]).toBe('01. a v1.5.mp3');
});

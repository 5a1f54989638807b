import { extname } from 'node:path';
import { deliveredName, freeName, type TargetFile } from '@tonos/core';
import { writerOf } from '@tonos/formats';
import type { RecordingEntity } from '../recordings/recording-entity.ts';
import type { Chapters } from './chapters-of.ts';

export const baseOf = (name: string): string => name.slice(0, name.length - extname(name).length) || name;

/** Each base once, with its ending: one that is taken gets " (2)". Capitals make no other file. */
export function numbered(bases: readonly string[], ending: string): string[] {
  const taken = new Set<string>();
  return bases.map((base) => {
    const name = freeName(base, ending, (one) => taken.has(one.toLowerCase()));
    taken.add(name.toLowerCase());
    return name;
  });
}

interface Named {
  recordings: readonly RecordingEntity[];
  target: TargetFile;
  titleName: string;
  chapters: Chapters;
}

/** What a run's items are delivered as, and which of the names have a number because two would be alike. */
export function deliveredNames({ recordings, target, titleName, chapters }: Named): {
  names: string[];
  collisions: string[];
} {
  const { ending } = writerOf(target.output);
  const bases = recordings.map(({ name, tags, position, speaker }) => {
    const base = baseOf(name);
    const parts = {
      name: base,
      title: tags.title ?? base,
      album: titleName,
      track: chapters.trackOf({ position }),
      tracks: chapters.count,
      speaker,
    };
    return target.naming ? deliveredName(target.naming, parts) : base;
  });
  const names = numbered(bases, ending);
  return { names, collisions: names.filter((name, i) => name !== `${bases[i]}${ending}`) };
}

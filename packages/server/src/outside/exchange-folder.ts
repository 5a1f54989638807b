import { mkdir, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { isWholeWav } from './whole-file.ts';

/** So many looks at which nothing changes make a file complete: one whose head says how long it is, and any other. */
const LOOKS_WHOLE = 1;
const LOOKS_UNKNOWN = 10;

/** A file that came back, and is complete. */
export interface Arrived {
  name: string;
  path: string;
  stamp: string;
}

/** Where files go out and come back: `out` and `back` in one folder. It may be away for a while. */
export class ExchangeFolder {
  readonly out: string;
  readonly back: string;
  /** Why it can't be used just now. */
  trouble: string | null = null;
  private readonly seen = new Map<string, { stamp: string; looks: number }>();

  /** As people are told of them: where they are not of their choosing, without the way to the data folder. */
  readonly told: { out: string; back: string };

  /** @param isInData whether it lies where it does for want of a choice */
  constructor(folder: string, isInData = false) {
    this.out = join(folder, 'out');
    this.back = join(folder, 'back');
    const shown = (name: string) => (isInData ? `exchange/${name}, in the data folder` : join(folder, name));
    this.told = { out: shown('out'), back: shown('back') };
  }

  /** Makes it where it is not there. @returns whether it can be used */
  async isThere(): Promise<boolean> {
    try {
      for (const folder of [this.out, this.back]) await mkdir(folder, { recursive: true });
      this.trouble = null;
      return true;
    } catch (error) {
      this.trouble = `The exchange folder can\u2019t be used: ${(error as Error).message}. Bring it back, or set TONOS_EXCHANGE to another.`;
      return false;
    }
  }

  /** Where a file is written until it is whole. */
  partOf(name: string): string {
    return join(this.out, `.${name}.part`);
  }

  /** Lays out what was written: what is said of it first, so that whoever sees the sound finds it. */
  async layOut(name: string, about: object): Promise<void> {
    await writeFile(join(this.out, jsonName(name)), `${JSON.stringify(about, undefined, 2)}\n`);
    await rename(this.partOf(name), join(this.out, name));
  }

  async clear(name: string): Promise<void> {
    for (const path of [join(this.out, name), join(this.out, jsonName(name)), this.partOf(name)])
      await rm(path, { force: true });
  }

  /** Takes a file that somebody hands in as one that came back. @param write to a path */
  async handIn(name: string, write: (path: string) => Promise<void>): Promise<void> {
    const part = join(this.back, `.${name}.part`);
    try {
      await write(part);
      await rename(part, join(this.back, name));
    } finally {
      await rm(part, { force: true });
    }
  }

  /**
   * One look at what came back.
   * @param known the stamp that a file was dealt with under, if it was; undefined for a name that nothing went out by
   */
  async look(
    known: (name: string) => string | undefined,
  ): Promise<{ arrived: Arrived[]; coming: string[]; strangers: string[] }> {
    const found = { arrived: [] as Arrived[], coming: [] as string[], strangers: [] as string[] };
    const names = (await readdir(this.back)).filter((name) => !name.startsWith('.'));
    for (const gone of [...this.seen.keys()].filter((name) => !names.includes(name))) this.seen.delete(gone);
    for (const name of names) {
      const dealtWith = known(name);
      const path = join(this.back, name);
      const about = await stat(path).catch(() => undefined);
      if (!about?.isFile()) continue;
      if (dealtWith === undefined) {
        if (!name.endsWith('.json')) found.strangers.push(name);
        continue;
      }
      const stamp = `${about.size} ${Math.round(about.mtimeMs)}`;
      if (stamp === dealtWith) continue;
      const before = this.seen.get(name);
      const looks = before?.stamp === stamp ? before.looks + 1 : 0;
      this.seen.set(name, { stamp, looks });
      const isWhole = looks >= LOOKS_WHOLE ? await isWholeWav(path, about.size).catch(() => undefined) : false;
      if (isWhole || (isWhole === undefined && looks >= LOOKS_UNKNOWN)) found.arrived.push({ name, path, stamp });
      else found.coming.push(name);
    }
    return found;
  }
}

const jsonName = (name: string): string => name.replace(/\.wav$/, '.json');

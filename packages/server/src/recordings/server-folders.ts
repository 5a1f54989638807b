import { createReadStream } from 'node:fs';
import { readdir, realpath, stat } from 'node:fs/promises';
import { basename, join, sep } from 'node:path';
import type { Folder, FolderQuery, FromFolder } from '@tonos/contract';
import { HttpProblem } from '../http/problems.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { ReceivedFile } from './receive-files.ts';

/** Folders on the server that files may be brought in from: below the configured roots, and nowhere else. */
export class ServerFolders {
  constructor(
    private readonly roots: readonly string[],
    private readonly store: BlobStore,
  ) {}

  async list(query: FolderQuery): Promise<Folder> {
    const roots = this.roots.map((root) => basename(root) || root);
    if (!roots.length) return { roots, folders: [], files: [] };
    const path = await this.resolve(query.root, query.path);
    const folders: string[] = [];
    const files: Folder['files'] = [];
    for (const name of await readdir(path)) {
      // hidden files are nobody's recordings; a link that is dead or leads outside is nothing
      const inside = name.startsWith('.')
        ? undefined
        : await this.resolve(query.root, join(query.path, name)).catch(() => undefined);
      const found = inside === undefined ? undefined : await stat(inside);
      if (found?.isDirectory()) folders.push(name);
      else if (found?.isFile()) files.push({ name, sizeBytes: found.size, changedMs: found.mtimeMs });
    }
    const byName = new Intl.Collator('en', { numeric: true }).compare;
    return { roots, folders: folders.sort(byName), files: files.sort((a, b) => byName(a.name, b.name)) };
  }

  /** A folder that something may be written into. */
  async folder(root: number, path: string): Promise<string> {
    const found = await this.resolve(root, path);
    if (!(await stat(found)).isDirectory())
      throw new HttpProblem(422, 'no-folder', `"${path}" is a file. Choose a folder.`);
    return found;
  }

  /** Copies files into the store, in the order named. All or none become recordings. */
  async receive({ root, path, files }: FromFolder): Promise<ReceivedFile[]> {
    const received: ReceivedFile[] = [];
    for (const name of files) {
      const found = await this.resolve(root, join(path, name));
      if (!(await stat(found)).isFile())
        throw new HttpProblem(422, 'no-file', `${name} is a folder. Open it, and choose files in it.`);
      received.push({ ...(await this.store.receive(createReadStream(found))), name: basename(name) });
    }
    return received;
  }

  /** The real path, links followed; outside the root there is nothing. */
  private async resolve(root: number, path: string): Promise<string> {
    const none = new HttpProblem(404, 'no-folder', `There is no "${path}" below a folder that Tonos may read.`);
    const top = this.roots[root];
    if (top === undefined || path.includes('\0')) throw none;
    const [realTop, real] = await Promise.all([realpath(top), realpath(join(top, path))]).catch(() => {
      throw none;
    });
    if (real !== realTop && !real.startsWith(realTop.endsWith(sep) ? realTop : realTop + sep)) throw none;
    return real;
  }
}

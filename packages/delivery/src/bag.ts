import { createHash } from 'node:crypto';
import { basename, extname } from 'node:path';
import type { Readable } from 'node:stream';
import { freeName } from '@tonos/core';
import yazl from 'yazl';

export interface BagFile {
  /** Below `data/`. */
  name: string;
  path: string;
  sha256: string;
  sizeBytes: number;
}

export interface BagText {
  /** Below `data/`; gets a number where the name is taken. */
  name: string;
  content: Buffer;
}

export interface BagInfo {
  version: string;
  description: string;
  /** ISO 8601 */
  createdAt: string;
}

interface Payload {
  path: string;
  sha256: string;
}

const sha256Of = (content: string | Buffer) => createHash('sha256').update(content).digest('hex');
/** RFC 8493, 2.1.3: line ends and percent signs in paths are percent-encoded. */
const escapePath = (path: string) => path.replace(/[%\r\n]/g, encodeURIComponent);
const manifest = (files: readonly Payload[]) =>
  files.map(({ path, sha256 }) => `${sha256}  ${escapePath(path)}\n`).join('');

/**
 * A ZIP that holds a BagIt bag (RFC 8493), streamed. Sound does not shrink, so everything is stored.
 * @param bagName the bag's own folder in the ZIP
 */
export function bagOf(bagName: string, files: readonly BagFile[], texts: readonly BagText[], info: BagInfo): Readable {
  const zip = new yazl.ZipFile();
  const payload: Payload[] = [];
  const taken = new Set(files.map(({ name }) => name.toLowerCase()));
  for (const { name, path, sha256 } of files) {
    payload.push({ path: `data/${name}`, sha256 });
    zip.addFile(path, `${bagName}/data/${name}`, { compress: false });
  }
  for (const { name, content } of texts) {
    const ending = extname(name);
    const free = freeName(basename(name, ending), ending, (one) => taken.has(one.toLowerCase()));
    taken.add(free.toLowerCase());
    payload.push({ path: `data/${free}`, sha256: sha256Of(content) });
    zip.addBuffer(content, `${bagName}/data/${free}`, { compress: false });
  }
  const octets =
    files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0) +
    texts.reduce((sum, { content }) => sum + content.length, 0);
  const tags: Record<string, string> = {
    'bagit.txt': 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n',
    'bag-info.txt': `Source-Organization: Tonos ${info.version}\nExternal-Description: ${info.description.replace(/[\r\n]+/g, ' ')}\nBagging-Date: ${info.createdAt.slice(0, 10)}\nPayload-Oxum: ${octets}.${payload.length}\n`,
    'manifest-sha256.txt': manifest(payload),
  };
  tags['tagmanifest-sha256.txt'] = manifest(
    Object.entries(tags).map(([path, text]) => ({ path, sha256: sha256Of(text) })),
  );
  for (const [path, text] of Object.entries(tags))
    zip.addBuffer(Buffer.from(text), `${bagName}/${path}`, { compress: false });
  zip.end();
  return zip.outputStream as Readable;
}

import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import type { ReportFile, Run } from '@tonos/contract';
import yazl from 'yazl';

interface BagFile {
  path: string;
  sha256: string;
}

const sha256Of = (text: string) => createHash('sha256').update(text).digest('hex');
const manifest = (files: readonly BagFile[]) =>
  files.map(({ path, sha256 }) => `${sha256}  ${escapePath(path)}\n`).join('');
/** RFC 8493, 2.1.3: line ends and percent signs in paths are percent-encoded. */
const escapePath = (path: string) => path.replace(/[%\r\n]/g, encodeURIComponent);

/**
 * A run's deliverable outputs as a ZIP that holds a BagIt bag (RFC 8493), streamed. Sound does not shrink, so it is stored.
 * @param bagName the bag's own folder in the ZIP
 */
export function deliveryPackage(
  bagName: string,
  run: Run,
  report: ReportFile,
  pathOf: (sha256: string) => string,
): Readable {
  const zip = new yazl.ZipFile();
  const payload: BagFile[] = [];
  const delivered = run.items.filter((item) => (item.status === 'within' || item.accepted) && item.output);
  for (const { output } of delivered) {
    const path = `data/${output!.name}`;
    payload.push({ path, sha256: output!.sha256 });
    zip.addFile(pathOf(output!.sha256), `${bagName}/${path}`, { compress: false });
  }
  const reportText = `${JSON.stringify(report, undefined, 2)}\n`;
  const reportPath = `data/${reportNameBeside(delivered.map(({ output }) => output!.name))}`;
  payload.push({ path: reportPath, sha256: sha256Of(reportText) });
  zip.addBuffer(Buffer.from(reportText), `${bagName}/${reportPath}`, { compress: false });

  const octets = delivered.reduce((sum, { output }) => sum + output!.sizeBytes, Buffer.byteLength(reportText));
  const tags: Record<string, string> = {
    'bagit.txt': 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n',
    'bag-info.txt': `Source-Organization: Tonos ${report.version}\nExternal-Description: ${report.title}\nBagging-Date: ${report.createdAt.slice(0, 10)}\nPayload-Oxum: ${octets}.${payload.length}\n`,
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

const reportNameBeside = (names: readonly string[]) =>
  names.includes('report.json') ? 'tonos-report.json' : 'report.json';

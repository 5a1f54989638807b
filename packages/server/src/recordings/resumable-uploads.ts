import { randomUUID } from 'node:crypto';
import { copyFile, link, mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { ROUTES } from '@tonos/contract';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import type { Request, RequestHandler, Response } from 'express';
import { caller } from '../http/caller.ts';
import { HttpProblem, notFound, problemOf } from '../http/problems.ts';
import type { Calls } from '../http/serve.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { freeBytes } from '../storage/free-bytes.ts';
import { cleanName } from './receive-files.ts';
import type { RecordingService } from './recording-service.ts';

/** The open tus protocol (1.0): an upload that breaks goes on where it was, over a restart too, for a day. */

const PATH = '/api/uploads';
/** Kept beside what a sender says of an upload: who they are. */
const SENDER = 'personId';
const KEEP_MS = 24 * 3600 * 1000;
const SWEEP_EVERY_MS = 3600 * 1000;
/** So much stays free for work whatever is sent. */
const RESERVE_BYTES = 500e6;

export interface ResumableUploadsNeeds {
  recordings: RecordingService;
  store: BlobStore;
  largestBytes: number;
  /** @throws HttpProblem where who sends has sent too much already */
  checkQuota(bytes: number): Promise<void>;
  nudge(): void;
  report(error: unknown): void;
}

/** An upload becomes the recording of the same id. */
const idOf = (uploadId: string): string => uploadId.replace(/\.part$/, '');

/** tus takes errors as a status and a body. */
const refusal = (error: unknown) => {
  const problem = problemOf(error);
  return { status_code: problem.status, body: JSON.stringify(problem) };
};

/**
 * What is sent in parts. `Upload-Metadata` names the title (`titleId`), the file (`filename`), and maybe the recording that it is a new
 * take of (`replaces`).
 */
export class ResumableUploads {
  private readonly files: FileStore;
  private sweeping: NodeJS.Timeout | undefined;

  private constructor(private readonly needs: ResumableUploadsNeeds) {
    const directory = needs.store.uploadsFolder;
    this.files = new FileStore({ directory, expirationPeriodInMilliseconds: KEEP_MS });
  }

  /** Takes over what was sent to its end and not recorded when the server ended; what is older than a day goes. */
  static async open(needs: ResumableUploadsNeeds): Promise<ResumableUploads> {
    await mkdir(needs.store.uploadsFolder, { recursive: true });
    const uploads = new ResumableUploads(needs);
    await uploads.finishComplete();
    await uploads.sweep();
    uploads.sweeping = setInterval(() => void uploads.sweep(), SWEEP_EVERY_MS);
    uploads.sweeping.unref();
    return uploads;
  }

  close(): void {
    clearInterval(this.sweeping);
  }

  serve({ router, admitting }: Pick<Calls, 'router' | 'admitting'>): void {
    const tus = new Server({
      path: PATH,
      datastore: this.files,
      relativeLocation: true,
      maxSize: this.needs.largestBytes,
      namingFunction: () => `${randomUUID()}.part`,
      onUploadCreate: async (_, upload) => {
        await this.check(upload).catch((error) => {
          throw refusal(error);
        });
        return { metadata: { ...upload.metadata, [SENDER]: caller().personId } };
      },
      onUploadFinish: async (_, upload) => {
        try {
          return { headers: { 'Upload-Recording-Id': await this.record(upload) } };
        } catch (error) {
          throw refusal(error);
        }
      },
    });
    const handle = async (request: Request, response: Response) => {
      if (request.method !== 'OPTIONS' && request.get('Tus-Resumable') !== '1.0.0')
        throw new HttpProblem(412, 'not-tus', 'Uploads here speak tus 1.0: say Tus-Resumable: 1.0.0.');
      // one who asks how far it is, after a break in which it was recorded, learns that it is done
      const done =
        request.method === 'HEAD' ? await this.needs.recordings.sizeOf(idOf(request.path.split('/').at(-1)!)) : null;
      if (done === null) return tus.handle(request, response);
      const length = String(done);
      response.set({
        'Tus-Resumable': '1.0.0',
        'Upload-Offset': length,
        'Upload-Length': length,
        'Cache-Control': 'no-store',
      });
      response.status(200).end();
    };
    // whoever may send may also ask how far it is, and give it up
    const [begin, go] = [admitting(ROUTES.uploadBegin), admitting(ROUTES.uploadPart)];
    router.all(PATH, (request, ...rest) => (request.method === 'POST' ? begin : go)(request, ...rest), handle);
    router.all(`${PATH}/*rest`, go, this.checkOwn, handle);
  }

  /** What somebody else sends is not there for others: it may go into a title that they may not know of. */
  private readonly checkOwn: RequestHandler = async (request, _, next) => {
    const id = request.path.split('/').at(-1)!;
    const upload = await this.files.getUpload(id).catch(() => undefined);
    const personId = upload?.metadata?.[SENDER];
    if (personId && personId !== caller().personId) throw notFound('upload', id);
    next();
  };

  /** P13: what could not be recorded in the end is refused before a byte is sent. */
  private async check({ metadata, size }: Upload): Promise<void> {
    const { titleId, replaces } = metadata ?? {};
    const { recordings, store } = this.needs;
    if (!titleId)
      throw new HttpProblem(
        400,
        'no-title',
        'Upload-Metadata must name the title that the recording belongs to, as titleId.',
      );
    await recordings.checkTitle(titleId);
    await this.needs.checkQuota(size ?? 0);
    if (replaces) await recordings.checkReplaceable(titleId, replaces);
    if ((size ?? 0) > (await freeBytes(store.folder)) - RESERVE_BYTES)
      throw new HttpProblem(
        507,
        'disk-full',
        'There is not enough room on the disk for this file. Free some, and send it again.',
      );
  }

  /**
   * What was sent becomes a recording. Its bytes stay where they were sent to until that is done, and the recording's id is the upload's:
   * after a crash in between it is done again, and not twice.
   */
  private async record(upload: Upload): Promise<string> {
    const { recordings, store, nudge } = this.needs;
    const { titleId, filename, name, replaces } = upload.metadata ?? {};
    const id = idOf(upload.id);
    const sent = join(store.uploadsFolder, upload.id);
    if ((await recordings.sizeOf(id)) === null) {
      const own = store.temporaryPath();
      // a disk that knows no links takes a copy
      await link(sent, own).catch(() => copyFile(sent, own));
      const personId = upload.metadata?.[SENDER] ?? undefined;
      const file = { ...(await store.adopt(own)), id, name: cleanName(filename ?? name ?? ''), personId };
      await recordings.add(titleId!, [file], replaces ?? undefined);
    }
    await this.files.configstore.delete(upload.id);
    await rm(sent, { force: true });
    nudge();
    return id;
  }

  private async finishComplete(): Promise<void> {
    const { configstore } = this.files;
    for (const id of (await configstore.list?.()) ?? []) {
      try {
        const upload = await this.files.getUpload(id);
        if (upload.size !== undefined && upload.offset === upload.size) await this.record(upload);
      } catch (error) {
        this.needs.report(error);
      }
    }
  }

  private async sweep(): Promise<void> {
    await this.files.deleteExpired().catch(() => {});
  }
}

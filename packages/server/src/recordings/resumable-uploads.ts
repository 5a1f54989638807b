import { randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { Request, Response, Router } from 'express';
import { HttpProblem, problemOf } from '../http/problems.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { cleanName } from './receive-files.ts';
import type { RecordingService } from './recording-service.ts';

/** The open tus protocol (1.0): an upload that breaks goes on where it was, over a restart too, for a day. */

const PATH = '/api/uploads';
const KEEP_MS = 24 * 3600 * 1000;

export interface ResumableUploadsNeeds {
  recordings: RecordingService;
  store: BlobStore;
  largestBytes: number;
  nudge(): void;
}

/** tus takes errors as a status and a body. */
const refusal = (error: unknown) => {
  const problem = problemOf(error);
  return { status_code: problem.status, body: JSON.stringify(problem) };
};

/** `Upload-Metadata` names the title (`titleId`), the file (`filename`), and maybe the recording that it is a new take of (`replaces`). */
export function resumableUploads(
  router: Router,
  { recordings, store, largestBytes, nudge }: ResumableUploadsNeeds,
): void {
  const directory = store.uploadsFolder;
  mkdirSync(directory, { recursive: true });
  const files = new FileStore({ directory, expirationPeriodInMilliseconds: KEEP_MS });
  const tus = new Server({
    path: PATH,
    datastore: files,
    relativeLocation: true,
    maxSize: largestBytes,
    namingFunction: () => `${randomUUID()}.part`,
    onUploadCreate: async (_, upload) => {
      try {
        const { titleId } = upload.metadata ?? {};
        if (!titleId)
          throw new HttpProblem(
            400,
            'no-title',
            'Upload-Metadata must name the title that the recording belongs to, as titleId.',
          );
        await recordings.checkTitle(titleId);
        return {};
      } catch (error) {
        throw refusal(error);
      }
    },
    onUploadFinish: async (_, upload) => {
      try {
        const { titleId, filename, name, replaces } = upload.metadata ?? {};
        const blob = await store.adopt(join(directory, upload.id));
        await files.configstore.delete(upload.id);
        const file = { ...blob, name: cleanName(filename ?? name ?? '') };
        const [recording] = await recordings.add(titleId!, [file], replaces ?? undefined);
        nudge();
        return { headers: { 'Upload-Recording-Id': recording.id } };
      } catch (error) {
        throw refusal(error);
      }
    },
  });
  void files.deleteExpired().catch(() => {});
  const handle = (request: Request, response: Response) => tus.handle(request, response);
  router.all(PATH, handle);
  router.all(`${PATH}/*rest`, handle);
}

import type { Upload } from 'tus-js-client';
import { reasonOf } from '../api/reason-of.ts';
import type { UploadProgress } from './upload-files.ts';

/** From this size on a file is sent so that it can go on where it broke off. */
export const LARGE_BYTES = 64 * 1024 ** 2;
/** What a break can cost. */
const PART_BYTES = 16 * 1024 ** 2;
/** Tried again by itself; then a person is asked. */
const RETRY_MS = [0, 1000, 3000, 8000, 15_000];

export interface LargeUpload {
  pause(): void;
  goOn(): void;
  /** Takes away what has been sent. */
  cancel(): void;
}

interface LargeUploadEvents {
  progress(progress: UploadProgress): void;
  done(): void;
  broke(reason: string): void;
}

/** Sends one file to a title by the open tus protocol; one that was sent in part before goes on there. */
export function sendLargeFile(titleId: string, file: File, events: LargeUploadEvents): LargeUpload {
  const upload = uploadOf(titleId, file, events);
  const soon = (act: (upload: Upload) => unknown) => void upload.then(act).catch((error) => events.broke(whyIn(error)));
  soon(async (made) => {
    const [last] = await made.findPreviousUploads();
    if (last) made.resumeFromPreviousUpload(last);
    made.start();
  });
  return {
    pause: () => soon((made) => made.abort()),
    goOn: () => soon((made) => made.start()),
    cancel: () => soon((made) => made.abort(true).catch(() => {})), // what is left is swept after a day
  };
}

/** The protocol's library comes with the first file that wants it. */
async function uploadOf(titleId: string, file: File, events: LargeUploadEvents): Promise<Upload> {
  const { Upload } = await import('tus-js-client');
  return new Upload(file, {
    endpoint: '/api/uploads',
    chunkSize: PART_BYTES,
    retryDelays: RETRY_MS,
    removeFingerprintOnSuccess: true,
    metadata: { titleId, filename: file.name },
    // the same file may go to two titles
    fingerprint: async () => `tonos ${titleId} ${file.name} ${file.size} ${file.lastModified}`,
    onProgress: (sentBytes, totalBytes) => events.progress({ sentBytes, totalBytes: totalBytes ?? file.size }),
    onSuccess: () => events.done(),
    onError: (error) => events.broke(whyIn(error)),
  });
}

function whyIn(error: unknown): string {
  const { originalResponse } = error as { originalResponse?: { getBody(): string } | null };
  try {
    return reasonOf({ data: JSON.parse(originalResponse?.getBody() ?? '') });
  } catch {
    // no answer, or none of ours
    return 'The connection broke off. What was sent is kept for a day.';
  }
}

import { Upload } from 'tus-js-client';
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
  const upload = new Upload(file, {
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
  void upload.findPreviousUploads().then(([last]) => {
    if (last) upload.resumeFromPreviousUpload(last);
    upload.start();
  });
  return {
    pause: () => void upload.abort(),
    goOn: () => upload.start(),
    cancel: () => void upload.abort(true).catch(() => {}), // what is left is swept after a day
  };
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

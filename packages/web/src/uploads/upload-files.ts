import { pathOf, type Recording, ROUTES } from '@tonos/contract';
import { reasonOf } from '../api/reason-of.ts';

export interface UploadProgress {
  sentBytes: number;
  totalBytes: number;
}

/** Sends files to a title in one request; one alone may be a new take of a recording. `fetch` tells nothing of what has been sent, so this is an XMLHttpRequest. */
export function uploadFiles(
  titleId: string,
  files: readonly File[],
  options: { signal: AbortSignal; progress(progress: UploadProgress): void; replaces?: string },
): Promise<Recording[]> {
  return new Promise((resolve, reject) => {
    const form = new FormData();
    for (const file of files) form.append('files', file);
    const request = new XMLHttpRequest();
    const query = options.replaces === undefined ? '' : `?replaces=${options.replaces}`;
    request.open('POST', `${pathOf(ROUTES.addRecordings, { id: titleId })}${query}`);
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) => options.progress({ sentBytes: loaded, totalBytes: total });
    request.onload = () => {
      if (request.status < 300) resolve(request.response as Recording[]);
      else reject(new Error(reasonOf({ data: request.response })));
    };
    request.onerror = () =>
      reject(new Error('The upload broke off. See whether the server still runs, and drop the files again.'));
    request.onabort = () => reject(new DOMException('The upload was cancelled.', 'AbortError'));
    options.signal.addEventListener('abort', () => request.abort());
    request.send(form);
  });
}

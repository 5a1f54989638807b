import busboy from 'busboy';
import type { Request } from 'express';
import { HttpProblem } from '../http/problems.ts';
import type { BlobStore, StoredBlob } from '../storage/blob-store.ts';

export interface UploadLimits {
  fileBytes: number;
  files: number;
}

export interface ReceivedFile extends StoredBlob {
  /** What the recording is to be known by, where who sent it knows that already. */
  id?: string;
  name: string;
  /** Who sent it, where whoever records it is not the one who did. */
  personId?: string;
}

const FIELD = 'files';

/** The file's own name: no path of either kind, no control characters. */
export function cleanName(name: string): string {
  const last = name.split(/[/\\]/).at(-1) ?? '';
  return (
    last
      .replace(/\p{Cc}/gu, '')
      .trim()
      .slice(0, 255) || 'recording'
  );
}

/** Streams every part called "files" into the store, in the order sent. All or none. */
export function receiveFiles(request: Request, store: BlobStore, limits: UploadLimits): Promise<ReceivedFile[]> {
  return new Promise((resolve, reject) => {
    let form: busboy.Busboy;
    try {
      form = busboy({
        headers: request.headers,
        defParamCharset: 'utf8',
        limits: { fileSize: limits.fileBytes, files: limits.files },
      });
    } catch {
      return reject(
        new HttpProblem(415, 'not-multipart', `Files are sent as multipart/form-data, in parts called "${FIELD}".`),
      );
    }
    const receiving: Promise<ReceivedFile>[] = [];
    let failure: unknown;
    const fail = (error: unknown) => {
      if (failure) return;
      failure = error;
      request.unpipe(form);
      form.destroy();
      void Promise.allSettled(receiving).then(() => reject(error));
    };
    form.on('file', (field, stream, { filename }) => {
      stream.on('error', () => {}); // told by the promise below, or beside the point
      if (field !== FIELD) {
        stream.resume();
        fail(new HttpProblem(400, 'unknown-part', `The part "${field}" is not known; files are sent as "${FIELD}".`));
        return;
      }
      const name = cleanName(filename ?? '');
      const whole = () => {
        if (!stream.truncated) return;
        throw new HttpProblem(
          413,
          'too-large',
          `${name} is larger than ${Math.round(limits.fileBytes / 1e6)} MB. Split it and send the parts.`,
        );
      };
      const received = store.receive(stream, whole).then((blob) => ({ ...blob, name }));
      received.catch(fail);
      receiving.push(received);
    });
    form.on('filesLimit', () =>
      fail(new HttpProblem(413, 'too-many', `More than ${limits.files} files at once. Send them in several requests.`)),
    );
    form.on('error', (error: Error) =>
      fail(new HttpProblem(400, 'broken-upload', `The upload is not complete: ${error.message}. Send it again.`)),
    );
    form.on('close', () => {
      if (failure) return;
      if (!receiving.length)
        return reject(new HttpProblem(400, 'no-files', `No file was sent. Send at least one part called "${FIELD}".`));
      Promise.all(receiving).then(resolve, fail);
    });
    request.on('aborted', () => fail(new HttpProblem(400, 'broken-upload', 'The upload broke off. Send it again.')));
    request.pipe(form);
  });
}

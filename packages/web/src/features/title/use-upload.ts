import { nanoid } from '@reduxjs/toolkit';
import { useRef, useState } from 'react';
import { api } from '../../api/api.ts';
import { LARGE_BYTES, type LargeUpload, sendLargeFile } from '../../api/send-large-file.ts';
import { type UploadProgress, uploadFiles } from '../../api/upload-files.ts';
import { useAppDispatch } from '../../app/store.ts';
import { say, sayError } from '../../ui/notify.ts';
import { arrivalText } from './arrival-text.ts';
import { inOrder } from './sort-recordings.ts';

/** Files on their way: many small ones together, or one large one that can pause. */
export interface Transfer extends UploadProgress {
  id: string;
  what: string;
  startedMs: number;
  /** What had been sent when it began, or went on. */
  startedBytes: number;
  state: 'sending' | 'paused' | 'broken';
  reason?: string;
  pause?(): void;
  goOn?(): void;
  cancel(): void;
}

export interface Uploads {
  send(files: File[]): void;
  transfers: readonly Transfer[];
}

/** Sends dropped files to a title, in the order of the numbers in their names. */
export function useUpload(titleId: string): Uploads {
  const dispatch = useAppDispatch();
  const [transfers, setTransfers] = useState<readonly Transfer[]>([]);
  const queue = useRef<Promise<void>>(Promise.resolve());

  const begin = (transfer: Omit<Transfer, 'id' | 'startedMs' | 'startedBytes' | 'sentBytes' | 'state'>) => {
    const id = nanoid(8);
    const started = { startedMs: performance.now(), startedBytes: 0 };
    setTransfers((all) => [...all, { ...transfer, ...started, id, sentBytes: 0, state: 'sending' }]);
    return {
      change: (change: Partial<Transfer>) =>
        setTransfers((all) => all.map((one) => (one.id === id ? { ...one, ...change } : one))),
      end: () => setTransfers((all) => all.filter((one) => one.id !== id)),
    };
  };

  const sendSmall = async (files: File[]) => {
    const own = new AbortController();
    const totalBytes = files.reduce((sum, { size }) => sum + size, 0);
    const what = files.length === 1 ? files[0].name : `${files.length} files`;
    const transfer = begin({ what, totalBytes, cancel: () => own.abort() });
    try {
      const added = await uploadFiles(titleId, files, { signal: own.signal, progress: transfer.change });
      const known = dispatch((_, getState) => api.endpoints.recordings.select(titleId)(getState()).data ?? []);
      // events may have told of the new ones already
      const before = known.filter(({ id }) => !added.some((recording) => recording.id === id));
      say(arrivalText(added, before));
      dispatch(
        api.util.updateQueryData('recordings', titleId, (list) => {
          for (const recording of added) if (!list.some(({ id }) => id === recording.id)) list.push(recording);
        }),
      );
    } catch (error) {
      if ((error as Error).name !== 'AbortError') sayError('The files did not come in', error);
    } finally {
      transfer.end();
    }
  };

  const sendLarge = (file: File) =>
    new Promise<void>((settled) => {
      let upload: LargeUpload | undefined;
      const end = () => {
        transfer.end();
        settled();
      };
      const goOn = () => {
        transfer.change({ state: 'sending', reason: undefined, startedMs: performance.now() });
        fresh = true;
        upload?.goOn();
      };
      let fresh = true;
      const transfer = begin({
        what: file.name,
        totalBytes: file.size,
        pause: () => {
          upload?.pause();
          transfer.change({ state: 'paused' });
        },
        goOn,
        cancel: () => {
          upload?.cancel();
          end();
        },
      });
      upload = sendLargeFile(titleId, file, {
        progress: (progress) => {
          transfer.change(fresh ? { ...progress, startedBytes: progress.sentBytes } : progress);
          fresh = false;
        },
        done: () => {
          say(`${file.name} has come in.`);
          dispatch(api.util.invalidateTags(['Recordings', 'Titles']));
          end();
        },
        broke: (reason) => transfer.change({ state: 'broken', reason }),
      });
    });

  const send = (files: File[]) => {
    const sorted = inOrder(files, ({ name }) => name);
    const small = sorted.filter(({ size }) => size < LARGE_BYTES);
    const large = sorted.filter(({ size }) => size >= LARGE_BYTES);
    if (small.length) queue.current = queue.current.then(() => sendSmall(small));
    for (const file of large) queue.current = queue.current.then(() => sendLarge(file));
  };
  return { send, transfers };
}

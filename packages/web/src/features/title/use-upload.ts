import { useRef, useState } from 'react';
import { api } from '../../api/api.ts';
import { type UploadProgress, uploadFiles } from '../../api/upload-files.ts';
import { useAppDispatch } from '../../app/store.ts';
import { say, sayError } from '../../ui/notify.ts';
import { arrivalText } from './arrival-text.ts';

export interface Upload {
  send(files: File[]): void;
  cancel(): void;
  /** Present while files are on their way. */
  state: (UploadProgress & { files: number; startedMs: number }) | null;
}

/** Sends dropped files to a title. Files dropped meanwhile go in a request of their own. */
export function useUpload(titleId: string): Upload {
  const dispatch = useAppDispatch();
  const [state, setState] = useState<Upload['state']>(null);
  const controller = useRef<AbortController>(null);
  const queue = useRef<Promise<void>>(Promise.resolve());

  const sendNow = async (files: File[]) => {
    const own = new AbortController();
    controller.current = own;
    const startedMs = performance.now();
    const totalBytes = files.reduce((sum, { size }) => sum + size, 0);
    setState({ files: files.length, startedMs, sentBytes: 0, totalBytes });
    try {
      const added = await uploadFiles(titleId, files, {
        signal: own.signal,
        progress: (progress) => setState({ files: files.length, startedMs, ...progress }),
      });
      const known = dispatch((_, getState) => api.endpoints.recordings.select(titleId)(getState()).data ?? []);
      // events may have told of the new ones already
      say(
        arrivalText(
          added,
          known.filter(({ id }) => !added.some((recording) => recording.id === id)),
        ),
      );
      dispatch(
        api.util.updateQueryData('recordings', titleId, (list) => {
          for (const recording of added) if (!list.some(({ id }) => id === recording.id)) list.push(recording);
        }),
      );
    } catch (error) {
      if ((error as Error).name !== 'AbortError') sayError('The files did not come in', error);
    } finally {
      setState(null);
    }
  };

  return {
    send: (files) => {
      if (files.length) queue.current = queue.current.then(() => sendNow(files));
    },
    cancel: () => controller.current?.abort(),
    state,
  };
}

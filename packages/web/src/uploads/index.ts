import { api } from '../api/api.ts';
import { store } from '../app/store.ts';
import { say } from '../ui/notify.ts';
import { arrivalText } from './arrival-text.ts';
import { sendLargeFile } from './send-large-file.ts';
import { uploadFiles } from './upload-files.ts';
import { Uploads } from './uploads.ts';

export { UploadLines } from './UploadLines.tsx';
export { uploadFiles };

/** Those of this page. */
export const uploads = new Uploads({
  uploadFiles,
  sendLargeFile,
  arrived: (titleId, added, what) => {
    if (!added.length) return say(`${what} has come in.`);
    const known = api.endpoints.recordings.select(titleId)(store.getState()).data ?? [];
    // events may have told of the new ones already
    const before = known.filter(({ id }) => !added.some((recording) => recording.id === id));
    say(arrivalText(added, before));
  },
});

import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { sendFile } from '../http/send-file.ts';
import { serve } from '../http/serve.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { receiveFiles, type UploadLimits } from './receive-files.ts';
import type { RecordingService } from './recording-service.ts';

export interface RecordingRoutesNeeds {
  recordings: RecordingService;
  store: BlobStore;
  limits: UploadLimits;
  /** Called where work has come up. */
  nudge(): void;
}

export function recordingRoutes(router: Router, { recordings, store, limits, nudge }: RecordingRoutesNeeds): void {
  serve(router, ROUTES.recordings, ({ params }) => recordings.listOf(params.id));
  serve(router, ROUTES.addRecordings, async ({ params, request }) => {
    await recordings.checkTitle(params.id);
    const added = await recordings.add(params.id, await receiveFiles(request, store, limits));
    nudge();
    return added;
  });
  serve(router, ROUTES.recording, ({ params }) => recordings.get(params.id));
  serve(router, ROUTES.recordingOverview, ({ params }) => recordings.overview(params.id));
  serve(router, ROUTES.recordingAudio, async ({ params, response }) =>
    sendFile(response, await recordings.audio(params.id)),
  );
}

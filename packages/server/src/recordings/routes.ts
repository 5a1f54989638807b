import { type LedgerLine, mark, type Recording, ROUTES } from '@tonos/contract';
import type { Response, Router } from 'express';
import { sendFile } from '../http/send-file.ts';
import { goneSignal, sendLines } from '../http/send-lines.ts';
import { serve } from '../http/serve.ts';
import { sayVersion, seenVersion } from '../http/version-header.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { GapsService } from './gaps-service.ts';
import type { LedgerService } from './ledger-service.ts';
import { receiveFiles, type UploadLimits } from './receive-files.ts';
import type { RecordingService } from './recording-service.ts';
import { sendSamples } from './send-samples.ts';
import type { ServerFolders } from './server-folders.ts';
import { spectrumOf } from './sight.ts';
import type { SightService } from './sight-service.ts';

export interface RecordingRoutesNeeds {
  recordings: RecordingService;
  sight: SightService;
  ledgers: LedgerService;
  gaps: GapsService;
  folders: ServerFolders;
  store: BlobStore;
  limits: UploadLimits;
  /** Called where work has come up. */
  nudge(): void;
}

export function recordingRoutes(
  router: Router,
  { recordings, sight, ledgers, gaps, folders, store, limits, nudge }: RecordingRoutesNeeds,
): void {
  serve(router, ROUTES.recordings, ({ params }) => recordings.textOf(params.id));
  serve(router, ROUTES.addRecordings, async ({ params, query, request }) => {
    await recordings.checkTitle(params.id);
    const added = await recordings.add(params.id, await receiveFiles(request, store, limits), query.replaces);
    nudge();
    return added;
  });
  serve(router, ROUTES.addFromFolder, async ({ params, body }) => {
    await recordings.checkTitle(params.id);
    const added = await recordings.add(params.id, await folders.receive(body));
    nudge();
    return added;
  });
  serve(router, ROUTES.folders, ({ query }) => folders.list(query));
  serve(router, ROUTES.orderRecordings, ({ params, body }) => recordings.order(params.id, body));
  serve(router, ROUTES.takes, ({ params }) => recordings.takes(params.id));
  serve(router, ROUTES.useTake, ({ params }) => recordings.use(params.id));
  const tagged = (response: Response, recording: Recording): Recording => {
    sayVersion(response, recording.version);
    return recording;
  };
  serve(router, ROUTES.recording, async ({ params, response }) => tagged(response, await recordings.get(params.id)));
  serve(router, ROUTES.changeRecording, async ({ params, body, request, response }) =>
    tagged(response, await recordings.mark(params.id, body, seenVersion(request))),
  );
  serve(router, ROUTES.setMark, async ({ params, body, response }) =>
    tagged(response, await recordings.setPart(params.id, 'marks', { ...body, id: partId(params.markId) })),
  );
  serve(router, ROUTES.removeMark, ({ params }) => recordings.removePart(params.id, 'marks', params.markId));
  serve(router, ROUTES.setBox, async ({ params, body, response }) =>
    tagged(response, await recordings.setPart(params.id, 'boxes', { ...body, id: partId(params.boxId) })),
  );
  serve(router, ROUTES.setCut, async ({ params, body, response }) =>
    tagged(response, await recordings.setPart(params.id, 'cuts', { ...body, id: partId(params.cutId) })),
  );
  serve(router, ROUTES.removeCut, ({ params }) => recordings.removePart(params.id, 'cuts', params.cutId));
  serve(router, ROUTES.removeBox, ({ params }) => recordings.removePart(params.id, 'boxes', params.boxId));
  serve(router, ROUTES.changeRecordings, ({ body }) => recordings.change(body));
  serve(router, ROUTES.shelf, () => recordings.shelf());
  serve(router, ROUTES.titleTrash, ({ params }) => recordings.trashOf(params.id));
  serve(router, ROUTES.recordingGaps, ({ params, response }) => gaps.of(params.id, goneSignal(response)));
  serve(router, ROUTES.recordingOverview, ({ params }) => recordings.overview(params.id));
  serve(router, ROUTES.recordingSamples, async ({ params, query, response }) =>
    sendSamples(response, await recordings.sight(params.id), query),
  );
  serve(router, ROUTES.recordingView, ({ params, query, response }) =>
    sight.view(params.id, query, goneSignal(response)),
  );
  serve(router, ROUTES.ledger, async ({ params, body, response }) => {
    await sendLines<LedgerLine>(response, (tell, wanted) => ledgers.measure(params.id, body, wanted, tell));
  });
  serve(router, ROUTES.recordingSpectrum, async ({ params }) => ({
    spectrum: await spectrumOf(await recordings.sight(params.id)),
  }));
  serve(router, ROUTES.spectrogram, async ({ params, query, response }) => {
    const values = await sight.spectrogram(params.id, query, goneSignal(response));
    response.type('application/octet-stream').send(Buffer.from(values));
  });
  serve(router, ROUTES.recordingAudio, async ({ params, response }) =>
    sendFile(response, await recordings.audio(params.id)),
  );
}

const partId = (text: string): string => mark.shape.id.parse(text);

import { type LedgerLine, mark, type Recording, ROUTES } from '@tonos/contract';
import type { Response } from 'express';
import { sendFile } from '../http/send-file.ts';
import { goneSignal, sendLines } from '../http/send-lines.ts';
import { type Calls, serve } from '../http/serve.ts';
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
  /** @throws HttpProblem where who sends has sent too much already */
  checkQuota(bytes: number): Promise<void>;
}

export function recordingRoutes(
  calls: Calls,
  { recordings, sight, ledgers, gaps, folders, store, limits, nudge, checkQuota }: RecordingRoutesNeeds,
): void {
  serve(calls, ROUTES.recordings, ({ params, query }) => recordings.textOf(params.id, query));
  serve(calls, ROUTES.addRecordings, async ({ params, query, request }) => {
    await recordings.checkTitle(params.id);
    await checkQuota(Number(request.headers['content-length'] ?? 0));
    const added = await recordings.add(params.id, await receiveFiles(request, store, limits), query.replaces);
    nudge();
    return added;
  });
  serve(calls, ROUTES.addFromFolder, async ({ params, body }) => {
    await recordings.checkTitle(params.id);
    const added = await recordings.add(params.id, await folders.receive(body));
    nudge();
    return added;
  });
  serve(calls, ROUTES.folders, ({ query }) => folders.list(query));
  serve(calls, ROUTES.orderRecordings, ({ params, body }) => recordings.order(params.id, body));
  serve(calls, ROUTES.takes, ({ params }) => recordings.takes(params.id));
  serve(calls, ROUTES.useTake, ({ params }) => recordings.use(params.id));
  const tagged = (response: Response, recording: Recording): Recording => {
    sayVersion(response, recording.version);
    return recording;
  };
  serve(calls, ROUTES.recording, async ({ params, response }) => tagged(response, await recordings.get(params.id)));
  serve(calls, ROUTES.changeRecording, async ({ params, body, request, response }) =>
    tagged(response, await recordings.mark(params.id, body, seenVersion(request))),
  );
  serve(calls, ROUTES.setMark, async ({ params, body, response }) =>
    tagged(response, await recordings.setPart(params.id, 'marks', { ...body, id: partId(params.markId) })),
  );
  serve(calls, ROUTES.removeMark, ({ params }) => recordings.removePart(params.id, 'marks', params.markId));
  serve(calls, ROUTES.setBox, async ({ params, body, response }) =>
    tagged(response, await recordings.setPart(params.id, 'boxes', { ...body, id: partId(params.boxId) })),
  );
  serve(calls, ROUTES.setCut, async ({ params, body, response }) =>
    tagged(response, await recordings.setPart(params.id, 'cuts', { ...body, id: partId(params.cutId) })),
  );
  serve(calls, ROUTES.removeCut, ({ params }) => recordings.removePart(params.id, 'cuts', params.cutId));
  serve(calls, ROUTES.removeBox, ({ params }) => recordings.removePart(params.id, 'boxes', params.boxId));
  serve(calls, ROUTES.changeRecordings, ({ body }) => recordings.change(body));
  serve(calls, ROUTES.shelf, () => recordings.shelf());
  serve(calls, ROUTES.titleTrash, ({ params }) => recordings.trashOf(params.id));
  serve(calls, ROUTES.recordingGaps, ({ params, response }) => gaps.of(params.id, goneSignal(response)));
  serve(calls, ROUTES.recordingOverview, ({ params }) => recordings.overview(params.id));
  serve(calls, ROUTES.recordingSamples, async ({ params, query, response }) =>
    sendSamples(response, sight, await recordings.sight(params.id), query),
  );
  serve(calls, ROUTES.recordingView, ({ params, query, response }) =>
    sight.view(params.id, query, goneSignal(response)),
  );
  serve(calls, ROUTES.ledger, async ({ params, body, response }) => {
    await sendLines<LedgerLine>(response, (tell, wanted) => ledgers.measure(params.id, body, wanted, tell));
  });
  serve(calls, ROUTES.recordingSpectrum, async ({ params }) => ({
    spectrum: await spectrumOf(await recordings.sight(params.id)),
  }));
  serve(calls, ROUTES.spectrogram, async ({ params, query, response }) => {
    const values = await sight.spectrogram(params.id, query, goneSignal(response));
    response.type('application/octet-stream').send(Buffer.from(values));
  });
  serve(calls, ROUTES.recordingAudio, async ({ params, response }) =>
    sendFile(response, await recordings.audio(params.id)),
  );
}

const partId = (text: string): string => mark.shape.id.parse(text);

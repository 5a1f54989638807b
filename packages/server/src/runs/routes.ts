import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type ForecastLine, type ProgrammeLedgerLine, type ReportFile, ROUTES, type Run } from '@tonos/contract';
import { safeName } from '@tonos/core';
import { isDelivered, reportCsv, reportPdf } from '@tonos/delivery';
import { mediaTypeOf } from '../http/media-types.ts';
import { HttpProblem } from '../http/problems.ts';
import { sendFile } from '../http/send-file.ts';
import { goneSignal, sendLines } from '../http/send-lines.ts';
import { type Calls, serve } from '../http/serve.ts';
import type { LocalWork } from '../jobs/local-work.ts';
import type { OpenNote } from '../recordings/open-notes.ts';
import type { RecordingService } from '../recordings/recording-service.ts';
import { sendSamples } from '../recordings/send-samples.ts';
import type { ServerFolders } from '../recordings/server-folders.ts';
import { sightOf } from '../recordings/sight.ts';
import type { SightService } from '../recordings/sight-service.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { TitleService } from '../titles/title-service.ts';
import { deliverToFolder } from './deliver-to-folder.ts';
import { deliveryPackage } from './delivery-package.ts';
import type { ForecastService } from './forecast-service.ts';
import type { OrderForecast } from './order-forecast.ts';
import type { OrderLedgerService } from './order-ledger-service.ts';
import type { RemedyService } from './remedy-service.ts';
import type { RunService } from './run-service.ts';

export interface RunRoutesNeeds {
  runs: RunService;
  titles: TitleService;
  forecasts: ForecastService;
  orderForecasts: OrderForecast;
  orderLedgers: OrderLedgerService;
  remedies: RemedyService;
  work: LocalWork;
  recordings: RecordingService;
  sight: SightService;
  store: BlobStore;
  folders: ServerFolders;
  version: string;
  now(): string;
  nudge(): void;
}

export function runRoutes(calls: Calls, needs: RunRoutesNeeds): void {
  const {
    runs,
    titles,
    forecasts,
    orderForecasts,
    orderLedgers,
    remedies,
    work,
    recordings,
    sight,
    store,
    folders,
    version,
    now,
    nudge,
  } = needs;
  serve(calls, ROUTES.runs, () => runs.list());
  serve(calls, ROUTES.recordingItems, ({ params }) => runs.ofRecording(params.id));
  serve(calls, ROUTES.run, ({ params, query }) => runs.text(params.id, query));
  serve(calls, ROUTES.forecast, ({ body, response }) =>
    sendLines<ForecastLine>(response, (tell, wanted) =>
      'orderId' in body ? orderForecasts.foretell(body, wanted, tell) : forecasts.foretell(body, wanted, tell),
    ),
  );
  serve(calls, ROUTES.orderLedger, ({ params, body, response }) =>
    sendLines<ProgrammeLedgerLine>(response, (tell, wanted) => orderLedgers.measure(params.id, body, wanted, tell)),
  );
  serve(calls, ROUTES.startRun, async ({ body }) => {
    const run = await ('orderId' in body ? runs.startOrder(body) : runs.start(body));
    nudge();
    return run;
  });
  serve(calls, ROUTES.cancelRun, async ({ params }) => {
    const run = await runs.cancel(params.id);
    await work.abandonUnwanted();
    return run;
  });
  serve(calls, ROUTES.changeRun, async ({ params, body }) => {
    const run = await runs.change(params.id, body);
    nudge();
    return run;
  });
  serve(calls, ROUTES.retryRun, async ({ params, body }) => {
    const run = await runs.retry(params.id, body);
    nudge();
    return run;
  });
  serve(calls, ROUTES.remedies, async ({ params, body, response }) => {
    const found = await remedies.find(params.id, body, goneSignal(response));
    if (body.apply) nudge();
    return found;
  });
  serve(calls, ROUTES.remakeRun, async ({ params }) => {
    const run = await runs.remake(params.id);
    nudge();
    return run;
  });
  serve(calls, ROUTES.acceptItem, ({ params, body }) => runs.accept(params.id, params.itemId, body));
  serve(calls, ROUTES.withdrawAcceptance, ({ params }) => runs.withdrawAcceptance(params.id, params.itemId));
  serve(calls, ROUTES.attempts, ({ params }) => runs.earlier(params.id, params.itemId));
  serve(calls, ROUTES.useAttempt, ({ params }) => runs.useEarlier(params.id, params.itemId, params.attemptId));
  serve(calls, ROUTES.recipe, ({ params }) => runs.items.recipe(params.id, params.itemId));
  serve(calls, ROUTES.itemAsRecording, async ({ params }) => {
    const { titleId } = await runs.get(params.id);
    const { sha256, name } = await runs.items.output(params.id, params.itemId);
    const blob = await store.find(sha256);
    if (!blob) throw new HttpProblem(409, 'cleared', `${name} is not in the store any more. Render it again.`);
    const dot = name.lastIndexOf('.');
    const [made] = await recordings.add(titleId, [
      { ...blob, name: `${name.slice(0, dot)} (rendered)${name.slice(dot)}` },
    ]);
    nudge();
    return made;
  });
  serve(calls, ROUTES.outputOverview, ({ params }) => runs.items.overview(params.id, params.itemId));
  serve(calls, ROUTES.output, async ({ params, response }) => {
    const { sha256, name, container } = await runs.items.output(params.id, params.itemId);
    await sendFile(response, {
      path: store.pathOf(sha256),
      name,
      mediaType: mediaTypeOf(container),
    });
  });
  serve(calls, ROUTES.outputSamples, async ({ params, query, response }) => {
    const { sha256, name } = await runs.items.output(params.id, params.itemId);
    await sendSamples(response, sight, await sightOf(store, sha256, name), query);
  });
  serve(calls, ROUTES.report, async ({ params, response }) => {
    const run = await runs.get(params.id);
    const report = await reportFor(run);
    const name = safeName(`${run.titleName}, ${run.targetName}`);
    if (params.form === 'csv') response.attachment(`${name}.csv`).type('text/csv').send(reportCsv(report));
    else if (params.form === 'pdf')
      response
        .attachment(`${name}.pdf`)
        .type('application/pdf')
        .send(await reportPdf(report));
    else if (params.form === 'json') response.attachment(`${name}.json`).json(report);
    else
      throw new HttpProblem(404, 'not-found', `There is no report as "${params.form}"; there are json, csv and pdf.`);
  });
  serve(calls, ROUTES.package, async ({ params, response }) => {
    const run = await runs.get(params.id);
    await whilePinned(run, async () => {
      const { bagName, content } = await packageOf(run);
      response.attachment(`${bagName}.zip`).type('application/zip');
      await pipeline(content, response);
    });
  });
  serve(calls, ROUTES.deliverToFolder, async ({ params, body: { root, path } }) => {
    const folder = await folders.folder(root, path);
    const run = await runs.get(params.id);
    if (!run.items.some(isDelivered))
      throw new HttpProblem(409, 'nothing-to-deliver', 'No item of this run is within its target or accepted.');
    return whilePinned(run, async () => {
      const { bagName, content } = await packageOf(run);
      return deliverToFolder(folder, bagName, content);
    });
  });

  async function reportFor(run: Run): Promise<ReportFile> {
    const sources = await recordings.sourcesOf(run.titleId);
    const notes = await recordings.openNotesOf(run.titleId);
    const { details } = await titles.get(run.titleId);
    return {
      ...reportOf(
        run,
        (id) => sources.get(id) ?? '',
        (id) => notes.get(id) ?? [],
        version,
        now(),
      ),
      details,
    };
  }

  /** P4: what is being packed is not deleted. */
  async function whilePinned<T>(run: Run, work: () => Promise<T>): Promise<T> {
    const unpin = store.pin(run.items.flatMap(({ output }) => (output ? [output.sha256] : [])));
    try {
      return await work();
    } finally {
      unpin();
    }
  }

  async function packageOf(run: Run): Promise<{ bagName: string; content: Readable }> {
    const gone = run.items.filter((item) => isDelivered(item) && item.cleared).length;
    if (gone)
      throw new HttpProblem(409, 'cleared', `${gone} of the files were cleared to save room: make them again first.`);
    const report = await reportFor(run);
    const bagName = safeName(`${run.titleName}, ${run.targetName}`);
    const chapters = await runs.items.chaptersOf(run.id);
    const nothing = { chapters: [], title: '' };
    const content = await deliveryPackage(
      bagName,
      run,
      report,
      (sha256) => store.pathOf(sha256),
      (itemId) => chapters.get(itemId) ?? nothing,
    );
    return { bagName, content };
  }
}

const reportOf = (
  run: Run,
  sourceOf: (recordingId: string) => string,
  notesOf: (recordingId: string) => readonly OpenNote[],
  version: string,
  createdAt: string,
): ReportFile => ({
  format: 'tonos.report/1',
  version,
  title: run.titleName,
  chain: { name: run.chainName, revision: run.revision },
  ...(run.orderId && { order: { name: run.chainName, revision: run.revision } }),
  target: run.targetName,
  createdAt,
  ...(run.unapproved.length && { unapproved: run.unapproved }),
  items: run.items.map(({ name, recordingId, status, output, before, after, limits, accepted, parts, error }) => ({
    name,
    sourceSha256: sourceOf(recordingId),
    status,
    output: output?.name ?? null,
    outputSha256: output?.sha256 ?? null,
    before,
    after,
    limits,
    accepted,
    ...(parts && { parts }),
    error,
    ...(notesOf(recordingId).length && {
      openNotes: notesOf(recordingId).map(({ atSeconds, text }) => ({ atSeconds, text })),
    }),
  })),
});

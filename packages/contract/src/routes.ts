import { chainFile, targetFile } from '@tonos/core';
import * as z from 'zod';
import { newApproval } from './approval.ts';
import { catalogueEntry, chain, chainChange, chainSummary, newDraft, newRevision, revision } from './chain.ts';
import { deliveredFigures } from './figures.ts';
import { folder, folderQuery, fromFolder } from './folder.ts';
import { forecastQuestion } from './forecast.ts';
import { ledgerQuestion } from './ledger.ts';
import { MACHINE_ROUTES } from './machine-routes.ts';
import { ORDER_ROUTES } from './order-routes.ts';
import { OUTSIDE_ROUTES } from './outside-routes.ts';
import { PEOPLE_ROUTES } from './people-routes.ts';
import { preset, presetChange, presetFile } from './preset.ts';
import { recipeFile } from './recipe.ts';
import {
  arrivalQuery,
  boxChange,
  cutChange,
  markChange,
  recording,
  recordingChange,
  recordingGaps,
  recordingOrder,
  recordingOverview,
  recordingsChange,
} from './recording.ts';
import { anybody, engineer, lead, listener, owner } from './route.ts';
import {
  acceptance,
  attempt,
  deliveredPackage,
  deliveryPlace,
  itemOverview,
  itemRemedy,
  newOrderRun,
  newRun,
  recordingItem,
  remedyRequest,
  retryRequest,
  run,
  runChange,
  runItem,
  runSummary,
} from './run.ts';
import { newSet, recordingSet, setChange } from './set.ts';
import { standing, titleStanding } from './standing.ts';
import { clearRenders, integrity, storage } from './storage.ts';
import { target } from './target.ts';
import { indexPlace, newIndexPlace } from './thumb-index.ts';
import { newTitle, title, titleChange } from './title.ts';
import { today } from './today.ts';
import { trashChoice, trashEmptied, trashEntry, trashed } from './trash.ts';
import { recordingSpectrum, recordingView, rowsQuery, samplesQuery, spectrogramQuery, viewQuery } from './view.ts';

/** Every call of the server. */
export const ROUTES = {
  health: anybody.get('/api/health', 'Whether the server is ready, and its version.', {
    reply: z.object({ status: z.literal('ready'), version: z.string() }),
  }),
  steps: listener.get('/api/steps', 'The step kinds with a JSON Schema of their settings.', {
    reply: z.array(catalogueEntry),
  }),

  titles: listener.get('/api/titles', 'All titles.', { reply: z.array(title) }),
  addTitle: engineer.post('/api/titles', 'A new title.', { body: newTitle, reply: title }),
  title: listener.get('/api/titles/:id', 'One title.', { reply: title }),
  changeTitle: engineer.patch('/api/titles/:id', 'Change a title.', { body: titleChange, reply: title }),
  removeTitle: engineer.remove('/api/titles/:id', 'Move a title, and all that lies in it, to the trash.'),

  standings: listener.get('/api/standing', 'What was delivered of every title, counted.', {
    reply: z.array(titleStanding),
  }),
  standing: listener.get('/api/titles/:id/standing', 'What was delivered of each recording of a title.', {
    reply: z.array(standing),
  }),
  figures: listener.get(
    '/api/titles/:id/figures',
    'The figures of what was delivered of a title, recording by recording.',
    {
      reply: z.array(deliveredFigures),
    },
  ),
  today: listener.get('/api/today', 'What waits for somebody, over all titles.', { reply: today }),

  cover: listener.get('/api/titles/:id/cover', 'The cover picture of a title.', { streams: 'image/*' }),
  setCover: engineer.put('/api/titles/:id/cover', 'Give a title a cover: a JPEG or PNG of at most 2 MB.', {
    takes: 'image/*',
    reply: title,
  }),
  removeCover: engineer.remove('/api/titles/:id/cover', 'Take the cover of a title away.'),

  recordings: listener.get('/api/titles/:id/recordings', 'The recordings of a title, in their order.', {
    query: rowsQuery,
    reply: z.array(recording),
  }),
  addRecordings: engineer.post('/api/titles/:id/recordings', 'Upload files: any number of parts called "files".', {
    costly: true,
    takes: 'multipart/form-data',
    query: arrivalQuery,
    reply: z.array(recording),
  }),
  addFromFolder: engineer.post('/api/titles/:id/recordings/from-folder', 'Bring in files of a folder on the server.', {
    costly: true,
    body: fromFolder,
    reply: z.array(recording),
  }),
  orderRecordings: engineer.put('/api/titles/:id/order', 'The order of a title\u2019s recordings.', {
    body: recordingOrder,
    reply: z.array(recording),
  }),
  folders: engineer.get('/api/folders', 'What lies in a folder on the server, below a configured root.', {
    query: folderQuery,
    reply: folder,
  }),
  recordingItems: listener.get(
    '/api/recordings/:id/items',
    'What every run came to for a recording, the newest first.',
    {
      reply: z.array(recordingItem),
    },
  ),
  takes: listener.get('/api/recordings/:id/takes', 'All takes of a recording, the newest first.', {
    reply: z.array(recording),
  }),
  useTake: engineer.post('/api/recordings/:id/use', 'Make this take the current one.', {
    reply: recording,
    status: 200,
  }),
  recording: listener.get('/api/recordings/:id', 'One recording with its figures.', { reply: recording }),
  changeRecording: engineer.patch('/api/recordings/:id', 'Marks, room tone by hand, boxes and cuts of one recording.', {
    body: recordingChange,
    reply: recording,
  }),
  setMark: listener.put('/api/recordings/:id/marks/:markId', 'Put one mark under its id.', {
    body: markChange,
    reply: recording,
  }),
  removeMark: listener.remove('/api/recordings/:id/marks/:markId', 'Take one mark away.'),
  setBox: engineer.put('/api/recordings/:id/boxes/:boxId', 'Put one box under its id.', {
    body: boxChange,
    reply: recording,
  }),
  removeBox: engineer.remove('/api/recordings/:id/boxes/:boxId', 'Take one box away.'),
  setCut: engineer.put('/api/recordings/:id/cuts/:cutId', 'Put one cut under its id.', {
    body: cutChange,
    reply: recording,
  }),
  removeCut: engineer.remove('/api/recordings/:id/cuts/:cutId', 'Take one cut away: what it changed is as it was.'),
  sets: listener.get('/api/titles/:id/sets', 'The linked sets of a title.', { reply: z.array(recordingSet) }),
  makeSet: engineer.post('/api/titles/:id/sets', 'Find where recordings of one session lie, and link them.', {
    body: newSet,
    reply: recordingSet,
  }),
  changeSet: engineer.patch('/api/sets/:id', 'Lay members of a set otherwise, or let some go.', {
    body: setChange,
    reply: recordingSet,
  }),
  removeSet: engineer.remove('/api/sets/:id', 'Unlink a set: its recordings stay as they are.'),
  changeRecordings: engineer.patch(
    '/api/recordings',
    'Label many recordings, move them to the trash, or restore them.',
    {
      body: recordingsChange,
      reply: z.array(recording),
    },
  ),
  removeRecording: engineer.remove('/api/recordings/:id', 'Move a recording to the trash.'),
  titleTrash: engineer.get('/api/titles/:id/trash', 'The recordings of a title that lie in the trash.', {
    reply: z.array(recording),
  }),
  shelf: listener.get('/api/shelf', 'The music and the sounds of all titles.', { reply: z.array(recording) }),
  recordingOverview: listener.get('/api/recordings/:id/overview', 'A picture of the whole recording.', {
    reply: recordingOverview,
  }),
  recordingGaps: listener.get('/api/recordings/:id/gaps', 'The pauses between its words, and the breaths in them.', {
    reply: recordingGaps,
  }),
  recordingAudio: listener.get('/api/recordings/:id/audio', 'The recording\u2019s file, with range requests.', {
    streams: 'audio/*',
  }),
  recordingSamples: listener.get(
    '/api/recordings/:id/samples',
    'Samples of any stretch: float32, little endian, one channel after the other.',
    { query: samplesQuery, streams: 'application/octet-stream' },
  ),
  recordingView: listener.get(
    '/api/recordings/:id/view',
    'What a picture of a stretch shows: wave, loudness, speech.',
    {
      query: viewQuery,
      reply: recordingView,
    },
  ),
  ledger: listener.post(
    '/api/recordings/:id/ledger',
    'What steps do to the levels of a recording: lines of JSON, the last one "done" or "failed".',
    { costly: true, body: ledgerQuestion, streams: 'application/x-ndjson', status: 200 },
  ),
  recordingSpectrum: listener.get(
    '/api/recordings/:id/spectrum',
    'Long-term spectra of loud and quiet, and the levels.',
    {
      reply: recordingSpectrum,
    },
  ),
  spectrogram: listener.get(
    '/api/recordings/:id/spectrogram',
    'Spectra of a stretch: columns x rows bytes, 0 at -110 dB, 255 at -20 dB.',
    { costly: true, query: spectrogramQuery, streams: 'application/octet-stream' },
  ),

  chains: listener.get('/api/chains', 'All chains.', { reply: z.array(chainSummary) }),
  addChain: engineer.post('/api/chains', 'A new chain, from a chain file.', { body: chainFile, reply: chain }),
  chain: listener.get('/api/chains/:id', 'One chain: its latest revision, its draft, its history.', { reply: chain }),
  changeChain: engineer.patch('/api/chains/:id', 'Name, tags, notes, star, archive.', {
    body: chainChange,
    reply: chain,
  }),
  removeChain: engineer.remove('/api/chains/:id', 'Move a chain that nothing uses to the trash.'),
  revision: listener.get('/api/chains/:id/revisions/:revision', 'One revision, as a chain file.', { reply: revision }),
  keepRevision: engineer.post('/api/chains/:id/revisions', 'Keep steps as a new revision; the draft ends.', {
    body: newRevision,
    reply: chain,
  }),
  saveDraft: engineer.put('/api/chains/:id/draft', 'Save work in progress.', { body: newDraft, reply: chain }),
  dropDraft: engineer.remove('/api/chains/:id/draft', 'Give up work in progress.'),
  approveChain: lead.post('/api/chains/:id/revisions/:revision/approval', 'Approve a revision of a chain.', {
    body: newApproval,
    reply: chain,
  }),
  withdrawChainApproval: lead.remove('/api/chains/:id/revisions/:revision/approval', 'Approve it no longer.'),

  ...ORDER_ROUTES,

  presets: listener.get('/api/presets', 'All presets of single steps.', { reply: z.array(preset) }),
  addPreset: engineer.post('/api/presets', 'A new preset, from a preset file.', { body: presetFile, reply: preset }),
  changePreset: engineer.patch('/api/presets/:id', 'Change a preset.', { body: presetChange, reply: preset }),
  removePreset: engineer.remove('/api/presets/:id', 'Move a preset to the trash.'),

  ...OUTSIDE_ROUTES,

  indexPlaces: listener.get('/api/index', 'The lettered places that everybody shares.', { reply: z.array(indexPlace) }),
  setIndexPlace: engineer.put('/api/index/:letter', 'Put a chain, a preset or steps at a letter.', {
    body: newIndexPlace,
    reply: indexPlace,
  }),
  removeIndexPlace: engineer.remove('/api/index/:letter', 'Clear a letter.'),

  targets: listener.get('/api/targets', 'All targets.', { reply: z.array(target) }),
  addTarget: engineer.post('/api/targets', 'A new target, from a target file.', { body: targetFile, reply: target }),
  target: listener.get('/api/targets/:id', 'One target, or an earlier version of one.', { reply: target }),
  changeTarget: engineer.put('/api/targets/:id', 'The next version of a target: it takes the place of this one.', {
    body: targetFile,
    reply: target,
  }),
  approveTarget: lead.post('/api/targets/:id/approval', 'Approve this version of a target.', {
    body: newApproval,
    reply: target,
  }),
  withdrawTargetApproval: lead.remove('/api/targets/:id/approval', 'Approve it no longer.'),
  removeTarget: engineer.remove('/api/targets/:id', 'Move a target that nothing uses to the trash.'),

  runs: listener.get('/api/runs', 'All runs, the newest first.', { reply: z.array(runSummary) }),
  forecast: engineer.post('/api/forecasts', 'Who will be within, before a run is started: lines of JSON.', {
    costly: true,
    body: forecastQuestion,
    streams: 'application/x-ndjson',
    status: 200,
  }),
  startRun: engineer.post('/api/runs', 'Start a run of a chain, or of a running order.', {
    body: newRun.or(newOrderRun),
    reply: run,
  }),
  run: listener.get('/api/runs/:id', 'One run with its items, or with some of them.', { query: rowsQuery, reply: run }),
  removeRun: engineer.remove('/api/runs/:id', 'Move a run, and what was delivered of it, to the trash.'),
  cancelRun: engineer.post('/api/runs/:id/cancel', 'Cancel what is not finished.', { reply: run, status: 200 }),
  changeRun: engineer.patch('/api/runs/:id', 'Pause a run, let it go on, put it before all others.', {
    body: runChange,
    reply: run,
  }),
  retryRun: engineer.post('/api/runs/:id/retry', 'Try failed or chosen items again.', {
    body: retryRequest,
    reply: run,
    status: 200,
  }),
  remedies: engineer.post(
    '/api/runs/:id/remedies',
    'What would bring items inside their target; applied where asked.',
    { costly: true, body: remedyRequest, reply: z.array(itemRemedy), status: 200 },
  ),
  remakeRun: engineer.post('/api/runs/:id/remake', 'Make files that were cleared again, each from its recipe.', {
    reply: run,
    status: 200,
  }),
  acceptItem: engineer.put(
    '/api/runs/:id/items/:itemId/acceptance',
    'Deliver an item that is off target, with a reason.',
    {
      body: acceptance,
      reply: runItem,
    },
  ),
  withdrawAcceptance: engineer.remove(
    '/api/runs/:id/items/:itemId/acceptance',
    'Leave an item that is off target out again.',
  ),
  attempts: listener.get('/api/runs/:id/items/:itemId/attempts', 'Earlier outcomes of an item, the newest first.', {
    reply: z.array(attempt),
  }),
  useAttempt: engineer.post(
    '/api/runs/:id/items/:itemId/attempts/:attemptId/use',
    'Deliver an earlier outcome instead.',
    {
      reply: runItem,
      status: 200,
    },
  ),
  recipe: listener.get('/api/runs/:id/items/:itemId/recipe', 'Everything that the delivered file came from.', {
    reply: recipeFile,
  }),
  output: listener.get('/api/runs/:id/items/:itemId/output', 'The delivered file, with range requests.', {
    streams: 'audio/*',
  }),
  itemAsRecording: engineer.post(
    '/api/runs/:id/items/:itemId/recording',
    'The delivered file as a recording of its own, at the end of its title.',
    { reply: recording },
  ),
  outputOverview: listener.get('/api/runs/:id/items/:itemId/overview', 'A picture of the delivered file.', {
    reply: itemOverview,
  }),
  outputSamples: listener.get(
    '/api/runs/:id/items/:itemId/samples',
    'Samples of any stretch of the delivered file, as it decodes.',
    { query: samplesQuery, streams: 'application/octet-stream' },
  ),
  report: listener.get('/api/runs/:id/report/:form', 'The report as json, csv or pdf.', { streams: '*/*' }),
  package: listener.get('/api/runs/:id/package', 'The delivery: a ZIP that holds a BagIt bag and the report.', {
    costly: true,
    streams: 'application/zip',
  }),

  deliverToFolder: engineer.post('/api/runs/:id/delivery', 'Write the package into a folder on the server.', {
    costly: true,
    body: deliveryPlace,
    reply: deliveredPackage,
  }),

  trash: engineer.get('/api/trash', 'All that lies in the trash.', { reply: z.array(trashEntry) }),
  restoreTrashed: engineer.post('/api/trash/restore', 'Bring something back from the trash.', {
    body: trashed,
    reply: z.array(trashEntry),
    status: 200,
  }),
  emptyTrash: owner.post(
    '/api/trash/empty',
    'Remove what lies in the trash for good, with files that nothing else needs.',
    {
      body: trashChoice,
      reply: trashEmptied,
      status: 200,
    },
  ),

  storage: owner.get('/api/storage', 'What lies in the data folder.', { reply: storage }),
  clearUnused: owner.post('/api/storage/clear', 'Delete files that nothing needs.', { reply: storage, status: 200 }),
  clearRenders: owner.post(
    '/api/storage/clear-renders',
    'Delete a title\u2019s delivered files that recipes make again.',
    {
      body: clearRenders,
      reply: storage,
      status: 200,
    },
  ),
  checkStorage: owner.post('/api/storage/check', 'Compare every file with what it was.', {
    reply: integrity,
    status: 200,
  }),

  uploadBegin: engineer.post('/api/uploads', 'Begin a resumable upload (tus 1.0).', {
    takes: 'application/offset+octet-stream',
    streams: 'text/plain',
    costly: true,
  }),
  uploadPart: engineer.patch('/api/uploads/:uploadId', 'Send on a resumable upload (tus 1.0).', {
    takes: 'application/offset+octet-stream',
    status: 204,
  }),

  ...PEOPLE_ROUTES,
  ...MACHINE_ROUTES,

  events: listener.get('/api/events', 'Server-sent events: progress of imports and runs.', {
    streams: 'text/event-stream',
  }),
  openapi: listener.get('/api/openapi.json', 'This description.', { reply: z.record(z.string(), z.unknown()) }),
} as const;

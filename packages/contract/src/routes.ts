import { chainFile, orderFile, targetFile } from '@tonos/core';
import * as z from 'zod';
import { catalogueEntry, chain, chainChange, chainSummary, newDraft, newRevision, revision } from './chain.ts';
import { deliveredFigures } from './figures.ts';
import { folder, folderQuery, fromFolder } from './folder.ts';
import { forecastQuestion } from './forecast.ts';
import { ledgerQuestion } from './ledger.ts';
import {
  newOrderDraft,
  newOrderRevision,
  orderRevision,
  orderSummary,
  programmeQuestion,
  runningOrder,
} from './order.ts';
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
import { get, patch, post, put, remove } from './route.ts';
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
import { recordingSpectrum, recordingView, samplesQuery, spectrogramQuery, viewQuery } from './view.ts';

/** Every call of the server. */
export const ROUTES = {
  health: get('/api/health', 'Whether the server is ready, and its version.', {
    reply: z.object({ status: z.literal('ready'), version: z.string() }),
  }),
  steps: get('/api/steps', 'The step kinds with a JSON Schema of their settings.', { reply: z.array(catalogueEntry) }),

  titles: get('/api/titles', 'All titles.', { reply: z.array(title) }),
  addTitle: post('/api/titles', 'A new title.', { body: newTitle, reply: title }),
  title: get('/api/titles/:id', 'One title.', { reply: title }),
  changeTitle: patch('/api/titles/:id', 'Change a title.', { body: titleChange, reply: title }),
  removeTitle: remove('/api/titles/:id', 'Move a title, and all that lies in it, to the trash.'),

  standings: get('/api/standing', 'What was delivered of every title, counted.', { reply: z.array(titleStanding) }),
  standing: get('/api/titles/:id/standing', 'What was delivered of each recording of a title.', {
    reply: z.array(standing),
  }),
  figures: get('/api/titles/:id/figures', 'The figures of what was delivered of a title, recording by recording.', {
    reply: z.array(deliveredFigures),
  }),
  today: get('/api/today', 'What waits for somebody, over all titles.', { reply: today }),

  cover: get('/api/titles/:id/cover', 'The cover picture of a title.', { streams: 'image/*' }),
  setCover: put('/api/titles/:id/cover', 'Give a title a cover: a JPEG or PNG of at most 2 MB.', {
    takes: 'image/*',
    reply: title,
  }),
  removeCover: remove('/api/titles/:id/cover', 'Take the cover of a title away.'),

  recordings: get('/api/titles/:id/recordings', 'The recordings of a title, in their order.', {
    reply: z.array(recording),
  }),
  addRecordings: post('/api/titles/:id/recordings', 'Upload files: any number of parts called "files".', {
    takes: 'multipart/form-data',
    query: arrivalQuery,
    reply: z.array(recording),
  }),
  addFromFolder: post('/api/titles/:id/recordings/from-folder', 'Bring in files of a folder on the server.', {
    body: fromFolder,
    reply: z.array(recording),
  }),
  orderRecordings: put('/api/titles/:id/order', 'The order of a title\u2019s recordings.', {
    body: recordingOrder,
    reply: z.array(recording),
  }),
  folders: get('/api/folders', 'What lies in a folder on the server, below a configured root.', {
    query: folderQuery,
    reply: folder,
  }),
  recordingItems: get('/api/recordings/:id/items', 'What every run came to for a recording, the newest first.', {
    reply: z.array(recordingItem),
  }),
  takes: get('/api/recordings/:id/takes', 'All takes of a recording, the newest first.', { reply: z.array(recording) }),
  useTake: post('/api/recordings/:id/use', 'Make this take the current one.', { reply: recording, status: 200 }),
  recording: get('/api/recordings/:id', 'One recording with its figures.', { reply: recording }),
  changeRecording: patch('/api/recordings/:id', 'Marks, room tone by hand, boxes and cuts of one recording.', {
    body: recordingChange,
    reply: recording,
  }),
  setMark: put('/api/recordings/:id/marks/:markId', 'Put one mark under its id.', {
    body: markChange,
    reply: recording,
  }),
  removeMark: remove('/api/recordings/:id/marks/:markId', 'Take one mark away.'),
  setBox: put('/api/recordings/:id/boxes/:boxId', 'Put one box under its id.', { body: boxChange, reply: recording }),
  removeBox: remove('/api/recordings/:id/boxes/:boxId', 'Take one box away.'),
  setCut: put('/api/recordings/:id/cuts/:cutId', 'Put one cut under its id.', { body: cutChange, reply: recording }),
  removeCut: remove('/api/recordings/:id/cuts/:cutId', 'Take one cut away: what it changed is as it was.'),
  sets: get('/api/titles/:id/sets', 'The linked sets of a title.', { reply: z.array(recordingSet) }),
  makeSet: post('/api/titles/:id/sets', 'Find where recordings of one session lie, and link them.', {
    body: newSet,
    reply: recordingSet,
  }),
  changeSet: patch('/api/sets/:id', 'Lay members of a set otherwise, or let some go.', {
    body: setChange,
    reply: recordingSet,
  }),
  removeSet: remove('/api/sets/:id', 'Unlink a set: its recordings stay as they are.'),
  changeRecordings: patch('/api/recordings', 'Label many recordings, move them to the trash, or restore them.', {
    body: recordingsChange,
    reply: z.array(recording),
  }),
  removeRecording: remove('/api/recordings/:id', 'Move a recording to the trash.'),
  titleTrash: get('/api/titles/:id/trash', 'The recordings of a title that lie in the trash.', {
    reply: z.array(recording),
  }),
  shelf: get('/api/shelf', 'The music and the sounds of all titles.', { reply: z.array(recording) }),
  recordingOverview: get('/api/recordings/:id/overview', 'A picture of the whole recording.', {
    reply: recordingOverview,
  }),
  recordingGaps: get('/api/recordings/:id/gaps', 'The pauses between its words, and the breaths in them.', {
    reply: recordingGaps,
  }),
  recordingAudio: get('/api/recordings/:id/audio', 'The recording\u2019s file, with range requests.', {
    streams: 'audio/*',
  }),
  recordingSamples: get(
    '/api/recordings/:id/samples',
    'Samples of any stretch: float32, little endian, one channel after the other.',
    { query: samplesQuery, streams: 'application/octet-stream' },
  ),
  recordingView: get('/api/recordings/:id/view', 'What a picture of a stretch shows: wave, loudness, speech.', {
    query: viewQuery,
    reply: recordingView,
  }),
  ledger: post(
    '/api/recordings/:id/ledger',
    'What steps do to the levels of a recording: lines of JSON, the last one "done" or "failed".',
    { body: ledgerQuestion, streams: 'application/x-ndjson', status: 200 },
  ),
  recordingSpectrum: get('/api/recordings/:id/spectrum', 'Long-term spectra of loud and quiet, and the levels.', {
    reply: recordingSpectrum,
  }),
  spectrogram: get(
    '/api/recordings/:id/spectrogram',
    'Spectra of a stretch: columns x rows bytes, 0 at -110 dB, 255 at -20 dB.',
    {
      query: spectrogramQuery,
      streams: 'application/octet-stream',
    },
  ),

  chains: get('/api/chains', 'All chains.', { reply: z.array(chainSummary) }),
  addChain: post('/api/chains', 'A new chain, from a chain file.', { body: chainFile, reply: chain }),
  chain: get('/api/chains/:id', 'One chain: its latest revision, its draft, its history.', { reply: chain }),
  changeChain: patch('/api/chains/:id', 'Name, tags, notes, star, archive.', { body: chainChange, reply: chain }),
  removeChain: remove('/api/chains/:id', 'Move a chain that nothing uses to the trash.'),
  revision: get('/api/chains/:id/revisions/:revision', 'One revision, as a chain file.', { reply: revision }),
  keepRevision: post('/api/chains/:id/revisions', 'Keep steps as a new revision; the draft ends.', {
    body: newRevision,
    reply: chain,
  }),
  saveDraft: put('/api/chains/:id/draft', 'Save work in progress.', { body: newDraft, reply: chain }),
  dropDraft: remove('/api/chains/:id/draft', 'Give up work in progress.'),

  orders: get('/api/titles/:id/orders', 'The running orders of a title.', { reply: z.array(orderSummary) }),
  addOrder: post('/api/titles/:id/orders', 'A new running order, from its file.', {
    body: orderFile,
    reply: runningOrder,
  }),
  order: get('/api/orders/:id', 'One running order: its latest revision, its draft, its history.', {
    reply: runningOrder,
  }),
  removeOrder: remove('/api/orders/:id', 'Move a running order to the trash.'),
  orderRevision: get('/api/orders/:id/revisions/:revision', 'One revision of a running order.', {
    reply: orderRevision,
  }),
  keepOrder: post('/api/orders/:id/revisions', 'Keep an order as a new revision; the draft ends.', {
    body: newOrderRevision,
    reply: runningOrder,
  }),
  saveOrderDraft: put('/api/orders/:id/draft', 'Save work in progress.', { body: newOrderDraft, reply: runningOrder }),
  dropOrderDraft: remove('/api/orders/:id/draft', 'Give up work in progress.'),
  orderLedger: post(
    '/api/orders/:id/ledger',
    'What an order does to the levels of its parts, its groups and the whole: lines of JSON, the last one "done" or "failed".',
    { body: programmeQuestion, streams: 'application/x-ndjson', status: 200 },
  ),

  presets: get('/api/presets', 'All presets of single steps.', { reply: z.array(preset) }),
  addPreset: post('/api/presets', 'A new preset, from a preset file.', { body: presetFile, reply: preset }),
  changePreset: patch('/api/presets/:id', 'Change a preset.', { body: presetChange, reply: preset }),
  removePreset: remove('/api/presets/:id', 'Move a preset to the trash.'),

  indexPlaces: get('/api/index', 'The lettered places that everybody shares.', { reply: z.array(indexPlace) }),
  setIndexPlace: put('/api/index/:letter', 'Put a chain, a preset or steps at a letter.', {
    body: newIndexPlace,
    reply: indexPlace,
  }),
  removeIndexPlace: remove('/api/index/:letter', 'Clear a letter.'),

  targets: get('/api/targets', 'All targets.', { reply: z.array(target) }),
  addTarget: post('/api/targets', 'A new target, from a target file.', { body: targetFile, reply: target }),
  target: get('/api/targets/:id', 'One target, or an earlier version of one.', { reply: target }),
  changeTarget: put('/api/targets/:id', 'The next version of a target: it takes the place of this one.', {
    body: targetFile,
    reply: target,
  }),
  removeTarget: remove('/api/targets/:id', 'Move a target that nothing uses to the trash.'),

  runs: get('/api/runs', 'All runs, the newest first.', { reply: z.array(runSummary) }),
  forecast: post('/api/forecasts', 'Who will be within, before a run is started: lines of JSON.', {
    body: forecastQuestion,
    streams: 'application/x-ndjson',
    status: 200,
  }),
  startRun: post('/api/runs', 'Start a run of a chain, or of a running order.', {
    body: newRun.or(newOrderRun),
    reply: run,
  }),
  run: get('/api/runs/:id', 'One run with its items.', { reply: run }),
  removeRun: remove('/api/runs/:id', 'Move a run, and what was delivered of it, to the trash.'),
  cancelRun: post('/api/runs/:id/cancel', 'Cancel what is not finished.', { reply: run, status: 200 }),
  changeRun: patch('/api/runs/:id', 'Pause a run, let it go on, put it before all others.', {
    body: runChange,
    reply: run,
  }),
  retryRun: post('/api/runs/:id/retry', 'Try failed or chosen items again.', {
    body: retryRequest,
    reply: run,
    status: 200,
  }),
  remedies: post('/api/runs/:id/remedies', 'What would bring items inside their target; applied where asked.', {
    body: remedyRequest,
    reply: z.array(itemRemedy),
    status: 200,
  }),
  remakeRun: post('/api/runs/:id/remake', 'Make files that were cleared again, each from its recipe.', {
    reply: run,
    status: 200,
  }),
  acceptItem: put('/api/runs/:id/items/:itemId/acceptance', 'Deliver an item that is off target, with a reason.', {
    body: acceptance,
    reply: runItem,
  }),
  withdrawAcceptance: remove('/api/runs/:id/items/:itemId/acceptance', 'Leave an item that is off target out again.'),
  attempts: get('/api/runs/:id/items/:itemId/attempts', 'Earlier outcomes of an item, the newest first.', {
    reply: z.array(attempt),
  }),
  useAttempt: post('/api/runs/:id/items/:itemId/attempts/:attemptId/use', 'Deliver an earlier outcome instead.', {
    reply: runItem,
    status: 200,
  }),
  recipe: get('/api/runs/:id/items/:itemId/recipe', 'Everything that the delivered file came from.', {
    reply: recipeFile,
  }),
  output: get('/api/runs/:id/items/:itemId/output', 'The delivered file, with range requests.', { streams: 'audio/*' }),
  outputOverview: get('/api/runs/:id/items/:itemId/overview', 'A picture of the delivered file.', {
    reply: itemOverview,
  }),
  outputSamples: get(
    '/api/runs/:id/items/:itemId/samples',
    'Samples of any stretch of the delivered file, as it decodes.',
    { query: samplesQuery, streams: 'application/octet-stream' },
  ),
  report: get('/api/runs/:id/report/:form', 'The report as json, csv or pdf.', { streams: '*/*' }),
  package: get('/api/runs/:id/package', 'The delivery: a ZIP that holds a BagIt bag and the report.', {
    streams: 'application/zip',
  }),

  deliverToFolder: post('/api/runs/:id/delivery', 'Write the package into a folder on the server.', {
    body: deliveryPlace,
    reply: deliveredPackage,
  }),

  trash: get('/api/trash', 'All that lies in the trash.', { reply: z.array(trashEntry) }),
  restoreTrashed: post('/api/trash/restore', 'Bring something back from the trash.', {
    body: trashed,
    reply: z.array(trashEntry),
    status: 200,
  }),
  emptyTrash: post('/api/trash/empty', 'Remove what lies in the trash for good, with files that nothing else needs.', {
    body: trashChoice,
    reply: trashEmptied,
    status: 200,
  }),

  storage: get('/api/storage', 'What lies in the data folder.', { reply: storage }),
  clearUnused: post('/api/storage/clear', 'Delete files that nothing needs.', { reply: storage, status: 200 }),
  clearRenders: post('/api/storage/clear-renders', 'Delete a title\u2019s delivered files that recipes make again.', {
    body: clearRenders,
    reply: storage,
    status: 200,
  }),
  checkStorage: post('/api/storage/check', 'Compare every file with what it was.', { reply: integrity, status: 200 }),

  events: get('/api/events', 'Server-sent events: progress of imports and runs.', { streams: 'text/event-stream' }),
  openapi: get('/api/openapi.json', 'This description.', { reply: z.record(z.string(), z.unknown()) }),
} as const;

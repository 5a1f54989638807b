import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type {
  Acceptance,
  Attempt,
  Chain,
  ChainChange,
  ChainSummary,
  DeliveredPackage,
  DeliveryPlace,
  Folder,
  FolderQuery,
  FromFolder,
  IndexPlace,
  Integrity,
  ItemRemedy,
  NewDraft,
  NewIndexPlace,
  NewRevision,
  NewRun,
  NewTitle,
  Preset,
  PresetChange,
  PresetFile,
  Recording,
  RecordingChange,
  RecordingOrder,
  RecordingOverview,
  RecordingSpectrum,
  RecordingsChange,
  Revision,
  Run,
  RunChange,
  RunItem,
  RunSummary,
  Storage,
  Target,
  Title,
  TitleChange,
  TrashChoice,
  TrashEmptied,
  TrashEntry,
  Trashed,
} from '@tonos/contract';
import type { ChainFile, TargetFile } from '@tonos/core';

/** Who writes says which version they saw: where another one stands by now, the server refuses. */
export const ifSeen = (version: number) => ({ 'if-match': `"${version}"` });

/** Every kind of thing that the page knows of the server. */
export const EVERYTHING = [
  'Titles',
  'Recordings',
  'Chains',
  'Presets',
  'Index',
  'Targets',
  'Runs',
  'Storage',
  'Trash',
] as const;

/** The lists that change where something goes to the trash, or comes back. */
const LISTS = {
  title: ['Titles', 'Runs', 'Chains'],
  recording: ['Recordings', 'Titles'],
  run: ['Runs', 'Chains'],
  chain: ['Chains'],
  target: ['Targets'],
  preset: ['Presets'],
} as const;

/** The server's calls as hooks. Server events keep the cache fresh (use-server-events.ts). */
export const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api/' }),
  tagTypes: EVERYTHING,
  endpoints: (build) => ({
    titles: build.query<Title[], void>({ query: () => 'titles', providesTags: ['Titles'] }),
    title: build.query<Title, string>({ query: (id) => `titles/${id}`, providesTags: ['Titles'] }),
    changeTitle: build.mutation<Title, { id: string } & TitleChange>({
      query: ({ id, ...body }) => ({ url: `titles/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Titles'],
    }),
    setCover: build.mutation<Title, { id: string; file: File }>({
      query: ({ id, file }) => ({
        url: `titles/${id}/cover`,
        method: 'PUT',
        body: file,
        headers: { 'content-type': file.type },
      }),
      invalidatesTags: ['Titles'],
    }),
    removeCover: build.mutation<void, string>({
      query: (id) => ({ url: `titles/${id}/cover`, method: 'DELETE' }),
      invalidatesTags: ['Titles'],
    }),
    addTitle: build.mutation<Title, NewTitle>({
      query: (body) => ({ url: 'titles', method: 'POST', body }),
      invalidatesTags: ['Titles'],
    }),

    recordings: build.query<Recording[], string>({
      query: (titleId) => `titles/${titleId}/recordings`,
      providesTags: ['Recordings'],
    }),
    recording: build.query<Recording, string>({ query: (id) => `recordings/${id}`, providesTags: ['Recordings'] }),
    folder: build.query<Folder, FolderQuery>({
      query: ({ root, path }) => `folders?root=${root}&path=${encodeURIComponent(path)}`,
    }),
    bringFromFolder: build.mutation<Recording[], { titleId: string } & FromFolder>({
      query: ({ titleId, ...body }) => ({ url: `titles/${titleId}/recordings/from-folder`, method: 'POST', body }),
      invalidatesTags: ['Recordings', 'Titles'],
    }),
    orderRecordings: build.mutation<Recording[], { titleId: string } & RecordingOrder>({
      query: ({ titleId, ...body }) => ({ url: `titles/${titleId}/order`, method: 'PUT', body }),
      invalidatesTags: ['Recordings'],
    }),
    takes: build.query<Recording[], string>({ query: (id) => `recordings/${id}/takes`, providesTags: ['Recordings'] }),
    useTake: build.mutation<Recording, string>({
      query: (id) => ({ url: `recordings/${id}/use`, method: 'POST' }),
      invalidatesTags: ['Recordings', 'Titles'],
    }),
    changeRecordings: build.mutation<Recording[], RecordingsChange>({
      query: (body) => ({ url: 'recordings', method: 'PATCH', body }),
      invalidatesTags: ['Recordings', 'Titles'],
    }),
    changeRecording: build.mutation<Recording, { id: string } & RecordingChange>({
      query: ({ id, ...body }) => ({ url: `recordings/${id}`, method: 'PATCH', body }),
      // shown at once, and taken back where the server refuses
      onQueryStarted: async ({ id, ...change }, { dispatch, queryFulfilled }) => {
        const shown = dispatch(api.util.updateQueryData('recording', id, (draft) => ({ ...draft, ...change })));
        await queryFulfilled.catch(shown.undo);
      },
      invalidatesTags: ['Recordings'],
    }),
    recordingOverview: build.query<RecordingOverview, string>({ query: (id) => `recordings/${id}/overview` }),

    recordingSpectrum: build.query<RecordingSpectrum, string>({ query: (id) => `recordings/${id}/spectrum` }),

    chains: build.query<ChainSummary[], void>({ query: () => 'chains', providesTags: ['Chains'] }),
    chain: build.query<Chain, string>({ query: (id) => `chains/${id}`, providesTags: ['Chains'] }),
    revision: build.query<Revision, { id: string; revision: number }>({
      query: ({ id, revision }) => `chains/${id}/revisions/${revision}`,
    }),
    addChain: build.mutation<Chain, Pick<ChainFile, 'name' | 'steps'> & Partial<ChainFile>>({
      query: (body) => ({ url: 'chains', method: 'POST', body }),
      invalidatesTags: ['Chains'],
    }),
    changeChain: build.mutation<Chain, { id: string } & ChainChange>({
      query: ({ id, ...body }) => ({ url: `chains/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Chains'],
    }),
    presets: build.query<Preset[], void>({ query: () => 'presets', providesTags: ['Presets'] }),
    addPreset: build.mutation<Preset, PresetFile>({
      query: (body) => ({ url: 'presets', method: 'POST', body }),
      invalidatesTags: ['Presets'],
    }),
    changePreset: build.mutation<Preset, { id: string } & PresetChange>({
      query: ({ id, ...body }) => ({ url: `presets/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Presets'],
    }),
    indexPlaces: build.query<IndexPlace[], void>({ query: () => 'index', providesTags: ['Index'] }),
    setIndexPlace: build.mutation<IndexPlace, { letter: string } & NewIndexPlace>({
      query: ({ letter, ...body }) => ({ url: `index/${letter}`, method: 'PUT', body }),
      invalidatesTags: ['Index'],
    }),
    removeIndexPlace: build.mutation<void, string>({
      query: (letter) => ({ url: `index/${letter}`, method: 'DELETE' }),
      invalidatesTags: ['Index'],
    }),
    keepRevision: build.mutation<Chain, { id: string; version: number } & NewRevision>({
      query: ({ id, version, ...body }) => ({
        url: `chains/${id}/revisions`,
        method: 'POST',
        body,
        headers: ifSeen(version),
      }),
      invalidatesTags: ['Chains'],
    }),
    saveDraft: build.mutation<Chain, { id: string; version: number } & NewDraft>({
      query: ({ id, version, ...body }) => ({
        url: `chains/${id}/draft`,
        method: 'PUT',
        body,
        headers: ifSeen(version),
      }),
    }),
    dropDraft: build.mutation<{ version: number }, { id: string; version: number }>({
      query: ({ id, version }) => ({
        url: `chains/${id}/draft`,
        method: 'DELETE',
        headers: ifSeen(version),
      }),
      transformResponse: (_, meta) => ({
        version: Number(meta?.response?.headers.get('etag')?.replaceAll('"', '') ?? 0),
      }),
      invalidatesTags: ['Chains'],
    }),

    targets: build.query<Target[], void>({ query: () => 'targets', providesTags: ['Targets'] }),
    target: build.query<Target, string>({ query: (id) => `targets/${id}`, providesTags: ['Targets'] }),
    addTarget: build.mutation<Target, TargetFile>({
      query: (body) => ({ url: 'targets', method: 'POST', body }),
      invalidatesTags: ['Targets'],
    }),
    changeTarget: build.mutation<Target, { id: string; file: TargetFile }>({
      query: ({ id, file }) => ({ url: `targets/${id}`, method: 'PUT', body: file }),
      invalidatesTags: ['Targets', 'Titles'],
    }),

    throwAway: build.mutation<void, Trashed>({
      query: ({ kind, id }) => ({ url: `${kind}s/${id}`, method: 'DELETE' }),
      invalidatesTags: (_, error, { kind }) => (error ? [] : ['Trash', ...LISTS[kind]]),
    }),
    trash: build.query<TrashEntry[], void>({ query: () => 'trash', providesTags: ['Trash'] }),
    restoreTrashed: build.mutation<TrashEntry[], Trashed>({
      query: (body) => ({ url: 'trash/restore', method: 'POST', body }),
      invalidatesTags: (_, error, { kind }) => (error ? [] : ['Trash', ...LISTS[kind]]),
    }),
    emptyTrash: build.mutation<TrashEmptied, TrashChoice>({
      query: (body) => ({ url: 'trash/empty', method: 'POST', body }),
      invalidatesTags: ['Trash', 'Storage'],
    }),

    storage: build.query<Storage, void>({ query: () => 'storage', providesTags: ['Storage'] }),
    clearUnused: build.mutation<Storage, void>({
      query: () => ({ url: 'storage/clear', method: 'POST' }),
      invalidatesTags: ['Storage'],
    }),
    checkStorage: build.mutation<Integrity, void>({ query: () => ({ url: 'storage/check', method: 'POST' }) }),

    runs: build.query<RunSummary[], void>({ query: () => 'runs', providesTags: ['Runs'] }),
    run: build.query<Run, string>({ query: (id) => `runs/${id}`, providesTags: ['Runs'] }),
    outputOverview: build.query<RecordingOverview, { runId: string; itemId: string; sha256: string }>({
      query: ({ runId, itemId }) => `runs/${runId}/items/${itemId}/overview`,
    }),
    startRun: build.mutation<Run, NewRun>({
      query: (body) => ({ url: 'runs', method: 'POST', body }),
      invalidatesTags: ['Runs', 'Titles'],
    }),
    cancelRun: build.mutation<Run, string>({
      query: (id) => ({ url: `runs/${id}/cancel`, method: 'POST' }),
      invalidatesTags: ['Runs'],
    }),
    acceptItem: build.mutation<RunItem, { runId: string; itemId: string } & Acceptance>({
      query: ({ runId, itemId, reason }) => ({
        url: `runs/${runId}/items/${itemId}/acceptance`,
        method: 'PUT',
        body: { reason },
      }),
      invalidatesTags: ['Runs'],
    }),
    withdrawAcceptance: build.mutation<void, { runId: string; itemId: string }>({
      query: ({ runId, itemId }) => ({ url: `runs/${runId}/items/${itemId}/acceptance`, method: 'DELETE' }),
      invalidatesTags: ['Runs'],
    }),
    changeRun: build.mutation<Run, { id: string } & RunChange>({
      query: ({ id, ...body }) => ({ url: `runs/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Runs'],
    }),
    attempts: build.query<Attempt[], { runId: string; itemId: string }>({
      query: ({ runId, itemId }) => `runs/${runId}/items/${itemId}/attempts`,
      providesTags: ['Runs'],
    }),
    useAttempt: build.mutation<RunItem, { runId: string; itemId: string; attemptId: string }>({
      query: ({ runId, itemId, attemptId }) => ({
        url: `runs/${runId}/items/${itemId}/attempts/${attemptId}/use`,
        method: 'POST',
      }),
      invalidatesTags: ['Runs'],
    }),
    deliverToFolder: build.mutation<DeliveredPackage, { runId: string } & DeliveryPlace>({
      query: ({ runId, ...body }) => ({ url: `runs/${runId}/delivery`, method: 'POST', body }),
    }),
    remakeRun: build.mutation<Run, string>({
      query: (id) => ({ url: `runs/${id}/remake`, method: 'POST' }),
      invalidatesTags: ['Runs'],
    }),
    clearRenders: build.mutation<Storage, string>({
      query: (titleId) => ({ url: 'storage/clear-renders', method: 'POST', body: { titleId } }),
      invalidatesTags: ['Storage', 'Runs'],
    }),
    findRemedies: build.mutation<ItemRemedy[], { id: string; itemIds?: string[]; apply?: boolean }>({
      query: ({ id, ...body }) => ({ url: `runs/${id}/remedies`, method: 'POST', body }),
      invalidatesTags: ['Recordings', 'Runs'],
    }),
    retryRun: build.mutation<Run, { id: string; itemIds?: string[] }>({
      query: ({ id, itemIds }) => ({ url: `runs/${id}/retry`, method: 'POST', body: itemIds ? { itemIds } : {} }),
      invalidatesTags: ['Runs'],
    }),
  }),
});

/** What a failed call has to say. */
export function reasonOf(error: unknown): string {
  const { data, error: text } = error as { data?: { detail?: string }; error?: string };
  return data?.detail ?? text ?? 'The server did not answer. See whether it still runs, and try again.';
}

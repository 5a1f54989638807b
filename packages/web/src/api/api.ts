import type { Dispatch } from '@reduxjs/toolkit';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import {
  type BoxChange,
  type ChainChange,
  type CutChange,
  type DeliveryPlace,
  type FolderQuery,
  type FromFolder,
  type MarkChange,
  type NewDraft,
  type NewIndexPlace,
  type NewRevision,
  type PresetChange,
  type RecordingChange,
  type RecordingOrder,
  ROUTES,
  type Route,
  type RunChange,
  type SetChange,
  type TitleChange,
  type Trashed,
  type ViewQuery,
} from '@tonos/contract';
import type { TargetFile } from '@tonos/core';
import { asWhole } from './as-whole.ts';
import { askInPages } from './ask-in-pages.ts';
import { takeEarly } from './early.ts';
import {
  all,
  ask,
  asSeen,
  type Body,
  byId,
  byRevision,
  bySentence,
  change,
  EVERYTHING,
  type Kind,
  one,
  own,
  type Reply,
  type Tag,
} from './endpoint.ts';
import { firstMark, noteFirstMark } from './first-mark.ts';
import { machineEndpoints } from './machine-endpoints.ts';
import { orderEndpoints } from './order-endpoints.ts';
import { outsideEndpoints } from './outside-endpoints.ts';
import { peopleEndpoints } from './people-endpoints.ts';
import { pathWithQuery, request } from './request.ts';

export { EVERYTHING, type Kind, type Tag } from './endpoint.ts';

/** What to ask again where something goes to the trash, or comes back. */
const AFFECTED: Readonly<Record<Trashed['kind'], readonly Kind[]>> = {
  title: ['Titles', 'Runs', 'Chains', 'Standing', 'Today', 'Trash'],
  recording: ['Recordings', 'Takes', 'Titles', 'Standing', 'Today', 'Trash'],
  run: ['Runs', 'Board', 'Deliveries', 'Chains', 'Standing', 'Today', 'Trash'],
  chain: ['Chains', 'Trash'],
  target: ['Targets', 'Trash'],
  preset: ['Presets', 'Trash'],
  module: ['Modules', 'Trash'],
  order: ['Orders', 'Trash'],
};

/** A file as the page makes one: what has a default may be left out. */
type Sent<Name extends 'addChain'> = Pick<Body<Name>, 'name' | 'steps'> & Partial<Body<Name>>;

const REMOVE: Readonly<Record<Trashed['kind'], Route>> = {
  title: ROUTES.removeTitle,
  recording: ROUTES.removeRecording,
  run: ROUTES.removeRun,
  chain: ROUTES.removeChain,
  target: ROUTES.removeTarget,
  preset: ROUTES.removePreset,
  module: ROUTES.removeModule,
  order: ROUTES.removeOrder,
};

/** A stretch of a recording as it is drawn. */
export interface ViewOf extends ViewQuery {
  id: string;
}

/** An item, and the run that it is in. */
export interface ItemOf {
  runId: string;
  itemId: string;
}
const inRun = ({ runId, itemId }: ItemOf) => ({ params: { id: runId, itemId } });

const plain = fetchBaseQuery({ baseUrl: '/' });

/** What was asked early is handed over, once. */
const unlessAsked: typeof plain = async (asked, tools, more) => {
  const early = typeof asked === 'string' || asked.method !== 'GET' ? undefined : await takeEarly(pathWithQuery(asked));
  return early ? { data: early.value } : plain(asked, tools, more);
};

/** Where nobody is signed in any more, the page asks who does; what was under work stays in it. */
const orSignIn: typeof plain = async (asked, tools, more) => {
  const answer = await unlessAsked(asked, tools, more);
  // where nobody was known yet when the page began, it begins now
  const { response } = answer.meta ?? {};
  if (tools.endpoint === 'me' && response?.ok && firstMark() === undefined) noteFirstMark(response);
  const isSignedOut = (answer.error?.data as { code?: string } | undefined)?.code === 'signed-out';
  if (isSignedOut && tools.endpoint !== 'me') tools.dispatch(api.util.invalidateTags(['Me']));
  asWhole(answer.data);
  return answer;
};

const askAgain = (dispatch: Dispatch, tags: Tag[]): void => void dispatch(api.util.invalidateTags(tags));
const RECORDINGS = {
  rowsOf: (list: Reply<'recordings'>) => list,
  withRows: (_: Reply<'recordings'>, rows: Reply<'recordings'>) => rows,
};
const ITEMS = {
  rowsOf: ({ items }: Reply<'run'>) => items,
  withRows: (run: Reply<'run'>, items: Reply<'run'>['items']) => ({ ...run, items }),
};

/**
 * The server's calls as hooks. Server events keep the cache fresh (take-event.ts); what a call alone asks again are things of which no
 * event tells, or whose event may come late.
 */
export const api = createApi({
  baseQuery: orSignIn,
  tagTypes: EVERYTHING,
  endpoints: (build) => ({
    ...peopleEndpoints(build),
    ...machineEndpoints(build),
    ...outsideEndpoints(build),
    ...orderEndpoints(build),

    today: ask(build, ROUTES.today, all, ['Today']),
    titles: ask(build, ROUTES.titles, all, ['Titles']),
    standings: ask(build, ROUTES.standings, all, ['Standing']),
    standing: ask(build, ROUTES.standing, byId, one('Standing')),
    figures: ask(build, ROUTES.figures, byId, one('Standing')),
    title: ask(build, ROUTES.title, byId, one('Titles')),
    addTitle: change(build, ROUTES.addTitle, (body: Body<'addTitle'>) => ({ body }), ['Titles']),
    changeTitle: change(
      build,
      ROUTES.changeTitle,
      ({ id, ...body }: { id: string } & TitleChange) => ({ ...byId(id), body }),
      ['Titles', 'Today'],
    ),
    // a picture goes as it is
    setCover: build.mutation<Reply<'setCover'>, { id: string; file: File }>({
      query: ({ id, file }) => ({
        ...request(ROUTES.setCover, byId(id)),
        body: file,
        headers: { 'content-type': file.type },
      }),
      invalidatesTags: own('Titles'),
    }),
    itemAsRecording: change(build, ROUTES.itemAsRecording, inRun, ['Recordings', 'Titles']),
    removeCover: change(build, ROUTES.removeCover, byId, one('Titles')),

    recordings: askInPages(build, orSignIn, ROUTES.recordings, RECORDINGS, () => ['Recordings'], askAgain),
    recordingItems: ask(build, ROUTES.recordingItems, byId, ['Deliveries']),
    recording: ask(build, ROUTES.recording, byId, one('Recordings')),
    folder: ask(build, ROUTES.folders, (query: FolderQuery) => ({ query })),
    bringFromFolder: change(
      build,
      ROUTES.addFromFolder,
      ({ titleId, ...body }: { titleId: string } & FromFolder) => ({ ...byId(titleId), body }),
      ['Recordings', 'Titles'],
    ),
    orderRecordings: change(
      build,
      ROUTES.orderRecordings,
      ({ titleId, ...body }: { titleId: string } & RecordingOrder) => ({ ...byId(titleId), body }),
    ),
    takes: ask(build, ROUTES.takes, byId, ['Takes']),
    useTake: change(build, ROUTES.useTake, byId, ['Takes', 'Recordings', 'Titles', 'Standing']),
    changeRecordings: change(build, ROUTES.changeRecordings, (body: Body<'changeRecordings'>) => ({ body })),
    changeRecording: change(
      build,
      ROUTES.changeRecording,
      ({ id, seen, ...body }: { id: string; seen?: number } & RecordingChange) => ({ ...byId(id), seen, body }),
    ),
    setMark: change(build, ROUTES.setMark, ({ id, markId, ...body }: { id: string; markId: string } & MarkChange) => ({
      params: { id, markId },
      body,
    })),
    removeMark: change(build, ROUTES.removeMark, (params: { id: string; markId: string }) => ({ params })),
    setBox: change(build, ROUTES.setBox, ({ id, boxId, ...body }: { id: string; boxId: string } & BoxChange) => ({
      params: { id, boxId },
      body,
    })),
    removeBox: change(build, ROUTES.removeBox, (params: { id: string; boxId: string }) => ({ params })),
    sets: ask(build, ROUTES.sets, byId, one('Sets')),
    makeSet: change(
      build,
      ROUTES.makeSet,
      ({ titleId, anyway = false, recordingIds }: { titleId: string; recordingIds: string[]; anyway?: boolean }) => ({
        params: { id: titleId },
        body: { recordingIds, anyway },
      }),
    ),
    changeSet: change(build, ROUTES.changeSet, ({ id, ...body }: { id: string } & SetChange) => ({
      params: { id },
      body,
    })),
    removeSet: change(build, ROUTES.removeSet, byId),
    setCut: change(build, ROUTES.setCut, ({ id, cutId, cut }: { id: string; cutId: string; cut: CutChange }) => ({
      params: { id, cutId },
      body: cut,
    })),
    removeCut: change(build, ROUTES.removeCut, (params: { id: string; cutId: string }) => ({ params })),
    recordingGaps: ask(build, ROUTES.recordingGaps, byId),
    shelf: ask(build, ROUTES.shelf, all, ['Shelf']),
    recordingOverview: ask(build, ROUTES.recordingOverview, byId),
    recordingView: ask(
      build,
      ROUTES.recordingView,
      ({ id, ...query }: ViewOf) => ({ params: { id }, query }),
      (_, __, { id }) => [{ type: 'Recordings', id }],
    ),
    recordingSpectrum: ask(build, ROUTES.recordingSpectrum, byId),

    chains: ask(build, ROUTES.chains, all, ['Chains']),
    chain: ask(build, ROUTES.chain, byId, one('Chains')),
    revision: ask(build, ROUTES.revision, byRevision),
    addChain: change(build, ROUTES.addChain, (body: Sent<'addChain'>) => ({ body: body as Body<'addChain'> }), [
      'Chains',
    ]),
    changeChain: change(
      build,
      ROUTES.changeChain,
      ({ id, ...body }: { id: string } & ChainChange) => ({ ...byId(id), body }),
      ['Chains'],
    ),
    approveChain: change(build, ROUTES.approveChain, bySentence, ['Chains']),
    withdrawChainApproval: change(build, ROUTES.withdrawChainApproval, byRevision, ['Chains']),
    approveTarget: change(
      build,
      ROUTES.approveTarget,
      ({ id, sentence }: { id: string; sentence: string }) => ({ ...byId(id), body: { sentence } }),
      ['Targets'],
    ),
    withdrawTargetApproval: change(build, ROUTES.withdrawTargetApproval, byId, ['Targets']),
    presets: ask(build, ROUTES.presets, all, ['Presets']),
    addPreset: change(build, ROUTES.addPreset, (body: Body<'addPreset'>) => ({ body }), ['Presets']),
    changePreset: change(
      build,
      ROUTES.changePreset,
      ({ id, ...body }: { id: string } & PresetChange) => ({ ...byId(id), body }),
      ['Presets'],
    ),
    indexPlaces: ask(build, ROUTES.indexPlaces, all, ['Index']),
    setIndexPlace: change(
      build,
      ROUTES.setIndexPlace,
      ({ letter, ...body }: { letter: string } & NewIndexPlace) => ({ params: { letter }, body }),
      ['Index'],
    ),
    removeIndexPlace: change(build, ROUTES.removeIndexPlace, (letter: string) => ({ params: { letter } }), ['Index']),
    keepRevision: change(build, ROUTES.keepRevision, asSeen<NewRevision>, ['Chains']),
    saveDraft: change(build, ROUTES.saveDraft, asSeen<NewDraft>),
    // the version without the draft is in the head of an answer that says nothing else
    dropDraft: build.mutation<{ version: number }, { id: string; version: number }>({
      query: ({ id, version }) => request(ROUTES.dropDraft, { ...byId(id), seen: version }),
      transformResponse: (_, meta) => ({
        version: Number(meta?.response?.headers.get('etag')?.replaceAll('"', '') ?? 0),
      }),
      invalidatesTags: ['Chains'],
    }),

    targets: ask(build, ROUTES.targets, all, ['Targets']),
    addTarget: change(build, ROUTES.addTarget, (body: TargetFile) => ({ body }), ['Targets']),
    changeTarget: change(
      build,
      ROUTES.changeTarget,
      ({ id, file }: { id: string; file: TargetFile }) => ({ ...byId(id), body: file }),
      ['Targets', 'Titles', 'Standing'],
    ),

    throwAway: build.mutation<void, Trashed>({
      query: ({ kind, id }) => request(REMOVE[kind], byId(id)),
      invalidatesTags: (_, error, { kind }) => (error ? [] : [...AFFECTED[kind]]),
    }),
    trash: ask(build, ROUTES.trash, all, ['Trash']),
    restoreTrashed: change(
      build,
      ROUTES.restoreTrashed,
      (body: Trashed) => ({ body }),
      (_, error, { kind }) => (error ? [] : [...AFFECTED[kind]]),
    ),
    emptyTrash: change(build, ROUTES.emptyTrash, (body: Body<'emptyTrash'>) => ({ body }), [
      'Trash',
      'Storage',
      'Today',
    ]),

    storage: ask(build, ROUTES.storage, all, ['Storage']),
    clearUnused: change(build, ROUTES.clearUnused, all, ['Storage']),
    checkStorage: change(build, ROUTES.checkStorage, all),
    clearRenders: change(build, ROUTES.clearRenders, (titleId: string) => ({ body: { titleId } }), [
      'Storage',
      'Board',
    ]),

    runs: ask(build, ROUTES.runs, all, ['Runs']),
    run: askInPages(build, orSignIn, ROUTES.run, ITEMS, (id) => [{ type: 'Board', id }], askAgain),
    // its hash is there so that another file is another answer
    outputOverview: ask(
      build,
      ROUTES.outputOverview,
      ({ runId, itemId }: { runId: string; itemId: string; sha256: string }) => ({
        params: { id: runId, itemId },
      }),
    ),
    startRun: change(build, ROUTES.startRun, (body: Body<'startRun'>) => ({ body }), ['Titles', 'Standing']),
    cancelRun: change(build, ROUTES.cancelRun, byId),
    acceptItem: change(build, ROUTES.acceptItem, ({ runId, itemId, reason }: ItemOf & { reason: string }) => ({
      params: { id: runId, itemId },
      body: { reason },
    })),
    withdrawAcceptance: change(build, ROUTES.withdrawAcceptance, inRun),
    changeRun: change(build, ROUTES.changeRun, ({ id, ...body }: { id: string } & RunChange) => ({
      ...byId(id),
      body,
    })),
    attempts: ask(build, ROUTES.attempts, inRun, ['Board']),
    useAttempt: change(build, ROUTES.useAttempt, ({ runId, ...params }: ItemOf & { attemptId: string }) => ({
      params: { id: runId, ...params },
    })),
    deliverToFolder: change(build, ROUTES.deliverToFolder, ({ runId, ...body }: { runId: string } & DeliveryPlace) => ({
      ...byId(runId),
      body,
    })),
    remakeRun: change(build, ROUTES.remakeRun, byId),
    findRemedies: change(
      build,
      ROUTES.remedies,
      ({ id, ...body }: { id: string; itemIds?: string[]; apply?: boolean }) => ({
        ...byId(id),
        body: { apply: false, ...body },
      }),
    ),
    retryRun: change(build, ROUTES.retryRun, ({ id, ...body }: { id: string; itemIds?: string[] }) => ({
      ...byId(id),
      body,
    })),
  }),
});

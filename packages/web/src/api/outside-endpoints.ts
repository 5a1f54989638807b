import { type NewOuting, ROUTES } from '@tonos/contract';
import { all, ask, type Build, byId, change, type Reply } from './endpoint.ts';
import { request } from './request.ts';

/** What is not Tonos' own: modules, and sound that other programs work on. */
export const outsideEndpoints = (build: Build) => ({
  modules: ask(build, ROUTES.modules, all, ['Modules']),
  outings: ask(build, ROUTES.outings, all, ['Outings']),
  sendOut: change(build, ROUTES.sendOut, (body: NewOuting) => ({ body }), ['Outings']),
  handInOuting: build.mutation<Reply<'handInOuting'>, { id: string; file: Blob }>({
    query: ({ id, file }) => ({
      ...request(ROUTES.handInOuting, byId(id)),
      body: file,
      headers: { 'content-type': 'audio/wav' },
    }),
    invalidatesTags: ['Outings'],
  }),
  takeOutOuting: change(build, ROUTES.takeOutOuting, byId, ['Outings', 'Recordings', 'Takes', 'Standing']),
  forgetOuting: change(build, ROUTES.forgetOuting, byId, ['Outings']),
  addModule: build.mutation<Reply<'addModule'>, { name: string; file: Blob }>({
    query: ({ name, file }) => ({
      ...request(ROUTES.addModule, { query: { name } }),
      body: file,
      headers: { 'content-type': 'application/wasm' },
    }),
    invalidatesTags: ['Modules'],
  }),
});

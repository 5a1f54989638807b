import type { api } from '../api/api.ts';
import { FIRST_ROWS } from '../api/first-rows.ts';

/** A call that a page begins with. */
export interface Question {
  path: string;
  /** The same call as the program knows it, which is not there yet when it is asked. */
  endpoint: keyof typeof api.endpoints;
  arg?: unknown;
}

const EVERY_PAGE: readonly Question[] = [
  { path: '/api/me', endpoint: 'me' },
  { path: '/api/modules', endpoint: 'modules' },
  { path: '/api/index', endpoint: 'indexPlaces' },
];

const OF_PAGE: Readonly<Record<string, (id: string) => readonly Question[]>> = {
  '/titles': () => [
    { path: '/api/titles', endpoint: 'titles' },
    { path: '/api/standing', endpoint: 'standings' },
  ],
  '/titles/:id': (id) => [
    { path: `/api/titles/${id}`, endpoint: 'title', arg: id },
    { path: `/api/titles/${id}/recordings?from=0&count=${FIRST_ROWS}`, endpoint: 'recordings', arg: id },
    { path: `/api/titles/${id}/standing`, endpoint: 'standing', arg: id },
    { path: '/api/targets', endpoint: 'targets' },
    { path: '/api/runs', endpoint: 'runs' },
    { path: '/api/chains', endpoint: 'chains' },
    { path: `/api/titles/${id}/sets`, endpoint: 'sets', arg: id },
    { path: `/api/titles/${id}/orders`, endpoint: 'orders', arg: id },
  ],
  '/chains': () => [{ path: '/api/chains', endpoint: 'chains' }],
  '/targets': () => [{ path: '/api/targets', endpoint: 'targets' }],
  '/runs': () => [{ path: '/api/runs', endpoint: 'runs' }],
  '/runs/:id': (id) => [{ path: `/api/runs/${id}?from=0&count=${FIRST_ROWS}`, endpoint: 'run', arg: id }],
};

/**
 * What a page asks first, in the order in which it is wanted; what it asks besides waits for an answer, or must be as new as can be.
 * @param path of the page, as its route has it
 */
export const firstQuestions = (path: string, id: string): readonly Question[] => [
  ...EVERY_PAGE,
  ...(OF_PAGE[path]?.(id) ?? []),
];

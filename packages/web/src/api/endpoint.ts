import type { EndpointBuilder, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { ROUTES, Route } from '@tonos/contract';
import { type Given, request } from './request.ts';

/** Every kind of thing that the page knows of the server. */
const KINDS = [
  'Me',
  'People',
  'Presence',
  'Account',
  'Notes',
  'Titles',
  'Standing',
  'Today',
  'Recordings',
  'Shelf',
  'Takes',
  'Deliveries',
  'Sets',
  'Chains',
  'Orders',
  'Presets',
  'Modules',
  'Outings',
  'Index',
  'Targets',
  'Runs',
  'Board',
  'Storage',
  'Trash',
  'Machines',
] as const;
export type Kind = (typeof KINDS)[number];
export type Tag = Kind | { type: Kind; id: string };
export const EVERYTHING: readonly Kind[] = KINDS;

type BodyOf<R> = R extends Route<infer Given, infer _Reply, infer _Query> ? Given : never;
type ReplyOf<R> = R extends Route<infer _Body, infer Given, infer _Query> ? Given : never;
export type Body<Name extends keyof typeof ROUTES> = BodyOf<(typeof ROUTES)[Name]>;
export type Reply<Name extends keyof typeof ROUTES> = ReplyOf<(typeof ROUTES)[Name]>;
export type BaseQuery = ReturnType<typeof fetchBaseQuery>;
export type Build = EndpointBuilder<BaseQuery, Kind, 'api'>;
/** Ids are opaque; most calls take one. */
export const byId = (id: string) => ({ params: { id } });
/** What is said of a revision, or of what hangs on it. */
export const byRevision = (params: { id: string; revision: number }) => ({ params });
export const bySentence = ({ sentence, ...params }: { id: string; revision: number; sentence: string }) => ({
  params,
  body: { sentence },
});
/** What is made of a thing as somebody saw it. */
export const asSeen = <Content>({ id, version, ...body }: { id: string; version: number } & Content) => ({
  ...byId(id),
  seen: version,
  // all of it but the two that stand before
  body: body as unknown as Content,
});
// biome-ignore lint/suspicious/noConfusingVoidType: a hook of it is called with nothing
export const all = (_: void) => ({});

export const one = (type: Kind) => (_: unknown, __: unknown, id: string) => [{ type, id }];
export const own =
  (type: Kind) =>
  (_: unknown, error: unknown, { id }: { id: string }) =>
    error ? [] : [{ type, id }];

/** An endpoint that reads what a route answers. */
export const ask = <B, R, Q, Arg>(
  build: Build,
  route: Route<B, R, Q>,
  given: (arg: Arg) => Given<B, Q>,
  providesTags: Parameters<typeof build.query<R, Arg>>[0]['providesTags'] = [],
) => build.query<R, Arg>({ query: (arg) => request(route, given(arg)), providesTags });

/** An endpoint that changes something. */
export const change = <B, R, Q, Arg>(
  build: Build,
  route: Route<B, R, Q>,
  given: (arg: Arg) => Given<B, Q>,
  invalidatesTags: Parameters<typeof build.mutation<R, Arg>>[0]['invalidatesTags'] = [],
) => build.mutation<R, Arg>({ query: (arg) => request(route, given(arg)), invalidatesTags });

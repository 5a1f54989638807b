import { type Dispatch, original } from '@reduxjs/toolkit';
import type { BaseQueryApi } from '@reduxjs/toolkit/query/react';
import type { Route, RowsQuery } from '@tonos/contract';
import { arrivingSlice } from './arriving-slice.ts';
import { asWhole } from './as-whole.ts';
import { type BaseQuery, type Build, byId, type Tag } from './endpoint.ts';
import { FIRST_ROWS } from './first-rows.ts';
import { request } from './request.ts';

/** The page is left so much time to draw the first rows before the rest is asked for and read, and more where it is still at it. */
const DRAWN_MS = 200;
const MOST_DRAWN_MS = 2000;
/** What comes behind the first rows in one go. */
const MORE_ROWS = 1000;
/** So often at most a whole list is read, where others change it all the while. */
const MOST_TRIES = 3;
/** Where the rest did not come, it is asked for once more after this. */
const AGAIN_MS = 2000;

interface Placed {
  id: string;
  position: number;
}

interface LongList<Reply, Row> {
  rowsOf(reply: Reply): readonly Row[];
  withRows(reply: Reply, rows: Row[]): Reply;
}

/** What was known and what came, in order; where both have a row, what was known: events have kept it fresh. */
export function joined<Row extends Placed>(known: readonly Row[], came: readonly Row[]): Row[] {
  const ids = new Set(known.map(({ id }) => id));
  return [...known, ...came.filter(({ id }) => !ids.has(id))].sort((a, b) => a.position - b.position);
}

/**
 * An endpoint that reads a long list: its first rows are there at once, the rest comes behind them. Asked again, it stays whole until all of
 * it has come anew.
 */
export function askInPages<Reply, Row extends Placed>(
  build: Build,
  baseQuery: BaseQuery,
  route: Route<unknown, Reply, RowsQuery>,
  { rowsOf, withRows }: LongList<Reply, Row>,
  providesTags: (id: string) => Tag[],
  askAgain: (dispatch: Dispatch, tags: Tag[]) => void,
) {
  const page = async (id: string, from: number, count: number, tools: BaseQueryApi) => {
    const { data, error } = await baseQuery(request(route, { ...byId(id), query: { from, count } }), tools, {});
    return error ? { error } : { data: data as Reply };
  };
  /** Rows behind those that are there, page by page, until there are no more. @returns how many there are in all */
  const rest = async (id: string, tools: BaseQueryApi, take: (rows: readonly Row[]) => void) => {
    for (let at = FIRST_ROWS; ; at += MORE_ROWS) {
      const { data, error } = await page(id, at, MORE_ROWS, tools);
      if (error) return { error };
      const rows = rowsOf(data);
      take(rows);
      if (rows.length < MORE_ROWS) return { count: at + rows.length };
    }
  };
  return build.query<Reply, string>({
    providesTags: (_, __, id) => providesTags(id),
    async queryFn(id, tools) {
      for (let tries = 1; ; tries++) {
        const first = await page(id, 0, FIRST_ROWS, tools);
        if (first.error || rowsOf(first.data).length < FIRST_ROWS || !isKnown(tools)) return first;
        let rows = [...rowsOf(first.data)];
        const { error, count } = await rest(id, tools, (more) => {
          rows = joined(rows, more);
        });
        if (error) return { error };
        // where rows came or went between two pages, some were passed over
        if (rows.length === count || tries === MOST_TRIES)
          return { data: asWhole(withRows(first.data, asWhole(rows))) };
      }
    },
    async onQueryStarted(
      id,
      { dispatch, getState, extra, requestId, getCacheEntry, queryFulfilled, updateCachedData },
    ) {
      const first = await queryFulfilled.catch(() => undefined);
      if (!first) return;
      const { begun, ended } = arrivingSlice.actions;
      if (rowsOf(first.data).length !== FIRST_ROWS) {
        dispatch(ended(id));
        return;
      }
      const { signal } = new AbortController();
      const tools = { dispatch, getState, extra, signal, abort: () => {}, endpoint: '', type: 'query' as const };
      // somebody asked anew meanwhile: what comes then is whole
      const isNewest = () => getCacheEntry().requestId === requestId;
      dispatch(begun(id));
      await drawn();
      const { error, count } = await rest(id, tools, (rows) => {
        if (isNewest())
          updateCachedData((draft) => {
            const known = original(draft as object) as Reply;
            return asWhole(withRows(known, asWhole(joined(rowsOf(known), rows)))) as typeof draft;
          });
      });
      if (!isNewest()) return;
      const { data } = getCacheEntry();
      if (!error && data && rowsOf(data as Reply).length === count) dispatch(ended(id));
      else setTimeout(() => askAgain(dispatch, providesTags(id)), error ? AGAIN_MS : 0);
    },
  });
}

/** When the page has drawn what it has, and rests. */
async function drawn(): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, DRAWN_MS));
  // not every browser tells
  if ('requestIdleCallback' in globalThis)
    await new Promise((resolve) => requestIdleCallback(resolve, { timeout: MOST_DRAWN_MS }));
}

/** Whether there is an answer that people look at. */
function isKnown({ getState, queryCacheKey }: BaseQueryApi): boolean {
  const { api } = getState() as { api: { queries: Record<string, { data?: unknown } | undefined> } };
  return queryCacheKey !== undefined && api.queries[queryCacheKey]?.data !== undefined;
}

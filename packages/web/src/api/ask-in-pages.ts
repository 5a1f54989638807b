import { original } from '@reduxjs/toolkit';
import type { BaseQueryApi } from '@reduxjs/toolkit/query/react';
import type { Route, RowsQuery } from '@tonos/contract';
import { arrivingSlice } from './arriving-slice.ts';
import { type BaseQuery, type Build, byId, type Tag } from './endpoint.ts';
import { request } from './request.ts';

/** What is seen at once, under two megabytes; and what comes behind it in one go. */
const FIRST_ROWS = 200;
const MORE_ROWS = 1000;

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
) {
  const page = async (id: string, from: number, count: number, tools: BaseQueryApi) => {
    const { data, error } = await baseQuery(request(route, { ...byId(id), query: { from, count } }), tools, {});
    return error ? { error } : { data: data as Reply };
  };
  /** Rows behind those that are there, page by page, until there are no more. */
  const rest = async (id: string, from: number, tools: BaseQueryApi, take: (rows: readonly Row[]) => void) => {
    for (let at = from; ; at += MORE_ROWS) {
      const { data, error } = await page(id, at, MORE_ROWS, tools);
      if (error) return error;
      const rows = rowsOf(data);
      take(rows);
      if (rows.length < MORE_ROWS) return undefined;
    }
  };
  return build.query<Reply, string>({
    providesTags: (_, __, id) => providesTags(id),
    async queryFn(id, tools) {
      const first = await page(id, 0, FIRST_ROWS, tools);
      if (first.error || rowsOf(first.data).length < FIRST_ROWS || !isKnown(tools)) return first;
      let rows = [...rowsOf(first.data)];
      const error = await rest(id, FIRST_ROWS, tools, (more) => {
        rows = joined(rows, more);
      });
      return error ? { error } : { data: withRows(first.data, rows) };
    },
    async onQueryStarted(
      id,
      { dispatch, getState, extra, requestId, getCacheEntry, queryFulfilled, updateCachedData },
    ) {
      const first = await queryFulfilled.catch(() => undefined);
      if (!first || rowsOf(first.data).length !== FIRST_ROWS) return;
      const { begun, ended } = arrivingSlice.actions;
      const { signal } = new AbortController();
      const tools = { dispatch, getState, extra, signal, abort: () => {}, endpoint: '', type: 'query' as const };
      dispatch(begun(id));
      await rest(id, FIRST_ROWS, tools, (rows) => {
        // somebody asked anew meanwhile: what comes then is whole
        if (getCacheEntry().requestId === requestId)
          updateCachedData((draft) => {
            const known = original(draft as object) as Reply;
            return withRows(known, joined(rowsOf(known), rows)) as typeof draft;
          });
      });
      dispatch(ended(id));
    },
  });
}

/** Whether there is an answer that people look at. */
function isKnown({ getState, queryCacheKey }: BaseQueryApi): boolean {
  const { api } = getState() as { api: { queries: Record<string, { data?: unknown } | undefined> } };
  return queryCacheKey !== undefined && api.queries[queryCacheKey]?.data !== undefined;
}

import { pathOf, type Route } from '@tonos/contract';

/** What a call of the page says besides its route. */
export interface Given<Body, Query = unknown> {
  /** What stands in the path: the first one is mostly `id`. */
  params?: Readonly<Record<string, string | number>>;
  query?: Query;
  body?: Body;
  /** The version that the change was made on: where another one stands by now, the server refuses. */
  seen?: number;
}

/** Who writes says which version they saw. */
export const ifSeen = (version: number) => ({ 'if-match': `"${version}"` });

/** A request as the query library takes it, made from the contract's route: paths and methods are said there only. */
export function request<Body, Reply, Query>(
  route: Route<Body, Reply, Query>,
  { params, query, body, seen }: Given<Body, Query>,
): { url: string; method: string; params?: Record<string, unknown>; body?: unknown; headers?: Record<string, string> } {
  return {
    url: pathOf(route, params),
    method: route.method.toUpperCase(),
    ...(query ? { params: query } : {}),
    ...(body === undefined ? {} : { body }),
    ...(seen === undefined ? {} : { headers: ifSeen(seen) }),
  };
}

/** Where a request that only reads goes, as it stands in its address. */
export function pathWithQuery({ url, params }: { url: string; params?: Record<string, unknown> }): string {
  const query = Object.entries(params ?? {}).flatMap(([name, value]) =>
    value === undefined ? [] : [[name, String(value)]],
  );
  return query.length ? `${url}?${new URLSearchParams(query)}` : url;
}

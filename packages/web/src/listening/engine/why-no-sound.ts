/** Why this page gets no memory that its threads may share, and what mends that; undefined where it gets it. */
export function whyNoSound({
  isSecureContext,
  crossOriginIsolated,
}: Pick<Window, 'isSecureContext' | 'crossOriginIsolated'>): string | undefined {
  if (!isSecureContext)
    return 'Listening needs a secure page, and this one came over http from another machine. Open it by its https address; docs/running.md says how a server gets one.';
  if (!crossOriginIsolated)
    return 'Listening needs headers that Tonos sends and that something on the way took off. The proxy must hand on Cross-Origin-Opener-Policy and Cross-Origin-Embedder-Policy.';
  return undefined;
}

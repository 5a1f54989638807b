/**
 * Answers what the page asks, in a test: the addresses of a page have no host, and nothing listens there.
 * @returns what puts the real ones back
 */
export function answerPage(answer: (request: Request) => Promise<Response>): () => void {
  const { fetch, Request: Real } = globalThis;
  globalThis.Request = class extends Real {
    constructor(input: string, init?: RequestInit) {
      super(new URL(input, 'http://127.0.0.1'), init);
    }
  } as typeof Request;
  globalThis.fetch = (input, init) => answer(input instanceof Real ? input : new Request(String(input), init));
  return () => Object.assign(globalThis, { fetch, Request: Real });
}

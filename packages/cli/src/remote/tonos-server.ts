import { createReadStream, createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type Problem, pathOf, ROUTES, type Route } from '@tonos/contract';
import { TonosError } from '@tonos/core';
import { UsageError } from '../usage-error.ts';

type Params = Readonly<Record<string, string>>;

/** So often something that broke off is gone on with. */
const TRIES = 6;
const LONGEST_WAIT_MS = 15_000;

const base64 = (text: string): string => Buffer.from(text).toString('base64');

/** A server, as the command talks to it: calls of the contract, files sent by tus, files fetched. */
export class TonosServer {
  readonly origin: string;

  /** @throws UsageError for what is no address */
  constructor(
    url: string,
    private readonly token: string | undefined,
    private readonly signal: AbortSignal,
  ) {
    if (!URL.canParse(url) || !/^https?:$/.test(new URL(url).protocol))
      throw new UsageError(`${url} is no address of a server: give one such as https://tonos.example.org.`);
    this.origin = new URL(url).origin;
  }

  /** @throws TonosError with what the server says, or that it does not answer */
  async call<Body, Reply, Query>(route: Route<Body, Reply, Query>, params: Params = {}, body?: Body): Promise<Reply> {
    const response = await this.again(() =>
      this.ask(pathOf(route, params), {
        method: route.method.toUpperCase(),
        ...(body !== undefined && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
      }),
    );
    return (response.status === 204 ? undefined : await response.json()) as Reply;
  }

  /** Sends a file to a title; where the line breaks it goes on where it was. @returns the id of its recording */
  async send(file: string, titleId: string): Promise<string> {
    const { size } = await stat(file);
    const metadata = Object.entries({ titleId, filename: basename(file) }).map(
      ([key, value]) => `${key} ${base64(value)}`,
    );
    const begun = await this.again(() =>
      this.ask(ROUTES.uploadBegin.path, {
        method: 'POST',
        headers: { ...TUS, 'upload-length': String(size), 'upload-metadata': metadata.join(',') },
      }),
    );
    const address = new URL(begun.headers.get('location') ?? '', this.origin).pathname;
    let sent = 0;
    const done = await this.again(async (isFirst) => {
      if (!isFirst)
        sent = Number((await this.ask(address, { method: 'HEAD', headers: TUS })).headers.get('upload-offset'));
      return this.ask(address, {
        method: 'PATCH',
        headers: { ...TUS, 'upload-offset': String(sent), 'content-type': 'application/offset+octet-stream' },
        body: size > sent ? (Readable.toWeb(createReadStream(file, { start: sent })) as ReadableStream) : undefined,
        duplex: 'half',
      } as RequestInit);
    });
    return (
      done.headers.get('upload-recording-id') ??
      address
        .split('/')
        .at(-1)!
        .replace(/\.part$/, '')
    );
  }

  /** Fetches a delivered file. It has its name when it is whole. */
  async fetchTo(path: string, runId: string, itemId: string): Promise<void> {
    const part = `${path}.part`;
    try {
      await this.again(async () => {
        const response = await this.ask(pathOf(ROUTES.output, { id: runId, itemId }), {});
        await pipeline(Readable.fromWeb(response.body as never), createWriteStream(part));
        return response;
      });
      await rename(part, path);
    } finally {
      await rm(part, { force: true });
    }
  }

  private async ask(path: string, init: RequestInit): Promise<Response> {
    const headers = {
      ...(init.headers as Record<string, string>),
      ...(this.token && { authorization: `Bearer ${this.token}` }),
    };
    const response = await fetch(`${this.origin}${path}`, { ...init, headers, redirect: 'error', signal: this.signal });
    if (response.ok) return response;
    const problem = (await response.json().catch(() => null)) as Problem | null;
    const retryAfter = Number(response.headers.get('retry-after') ?? 0);
    throw new ServerSays(
      response.status,
      problem?.code ?? 'refused',
      problem?.detail ?? response.statusText,
      retryAfter,
    );
  }

  /** Goes on after a break, longer and longer after each; what the server refuses it refuses again. */
  private async again(work: (isFirst: boolean) => Promise<Response>): Promise<Response> {
    for (let k = 0; ; k++) {
      try {
        return await work(k === 0);
      } catch (error) {
        this.signal.throwIfAborted();
        const isPassing = !(error instanceof ServerSays) || error.status === 429 || error.status >= 502;
        if (error instanceof ServerSays && !isPassing) throw error;
        if (k === TRIES - 1) throw error instanceof ServerSays ? error : new Unanswered(this.origin, error as Error);
        const asked = error instanceof ServerSays ? 1000 * error.retryAfterSeconds : 0;
        await new Promise((resolve) => setTimeout(resolve, Math.max(asked, Math.min(LONGEST_WAIT_MS, 250 * 2 ** k))));
      }
    }
  }
}

const TUS = { 'tus-resumable': '1.0.0' };

/** What a server answered instead. */
export class ServerSays extends TonosError {
  constructor(
    readonly status: number,
    code: string,
    message: string,
    readonly retryAfterSeconds = 0,
  ) {
    super(code, message);
  }
}

class Unanswered extends TonosError {
  constructor(origin: string, { message, cause }: Error) {
    const why = (cause as Error | undefined)?.message || message;
    super('no-answer', `${origin} does not answer (${why}). See whether it runs, and whether the address is right.`);
  }
}

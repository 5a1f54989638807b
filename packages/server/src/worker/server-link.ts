import { createReadStream, createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { setTimeout as wait } from 'node:timers/promises';
import { type Problem, pathOf, ROUTES, type Route, type Sent } from '@tonos/contract';
import { TonosError } from '@tonos/core';
import { NO_FILES, PARCEL, type Parcel, packParcel, unpackParcel } from '../jobs/parcel.ts';

const FIRST_WAIT_MS = 250;
const LONGEST_WAIT_MS = 5000;
/** Larger files are asked for before they are sent: another machine may have sent the same. */
const ASK_BYTES = 1024 * 1024;
/** What the server may say that another try mends: it starts, it is full, it is busy. */
const PASSES = [408, 429, 502, 503, 504, 507];

/** The server says no. */
export class Refused extends TonosError {
  constructor(
    readonly status: number,
    { code, detail }: Problem,
  ) {
    super(code, detail);
  }
}

/** The server, as a machine that works along talks to it. */
export class ServerLink {
  /** @param signal ends all that is waited for */
  constructor(
    readonly origin: string,
    private readonly token: string,
    private readonly signal: AbortSignal,
  ) {}

  /** @throws Refused; whatever `fetch` throws where the server is away */
  async call<Body, Reply>(
    route: Route<Body, Reply, undefined>,
    { params = {}, body, signal = this.signal }: { params?: Record<string, string>; body?: Body; signal?: AbortSignal },
  ): Promise<Reply> {
    const response = await this.ask(pathOf(route, params), {
      method: route.method.toUpperCase(),
      signal,
      ...(body !== undefined && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
    return (response.status === 204 ? undefined : await response.json()) as Reply;
  }

  /** A call that small files travel along with, on the way there and on the way back. @throws as `call` does */
  async exchange<Body, Reply>(
    route: Route<Body, Reply, undefined>,
    { head, files }: Parcel<Body>,
    signal: AbortSignal,
  ): Promise<Parcel<Reply>> {
    const response = await this.ask(pathOf(route), {
      method: route.method.toUpperCase(),
      signal,
      headers: { accept: PARCEL, 'content-type': files.size ? PARCEL : 'application/json' },
      body: files.size ? packParcel({ head, files }) : JSON.stringify(head),
    });
    if (!response.headers.get('content-type')?.startsWith(PARCEL))
      return { head: (await response.json()) as Reply, files: NO_FILES };
    return unpackParcel(Buffer.from(await response.arrayBuffer()));
  }

  /** Does something until the server has answered. @throws Refused, and where it is not wanted any more */
  async insist<T>(work: () => Promise<T>, signal: AbortSignal): Promise<T> {
    for (let pause = FIRST_WAIT_MS; ; pause = Math.min(LONGEST_WAIT_MS, 2 * pause)) {
      try {
        return await work();
      } catch (error) {
        signal.throwIfAborted();
        if (error instanceof Refused ? !PASSES.includes(error.status) : isOwnFault(error)) throw error;
      }
      await wait(pause, undefined, { signal });
    }
  }

  /** Fetches a file, from where it broke off. @param path where it goes; it can hold the beginning already */
  async fetchBlob(sha256: string, path: string, signal: AbortSignal): Promise<void> {
    await this.insist(async () => {
      const { size } = await stat(path).catch(() => ({ size: 0 }));
      const response = await this.ask(pathOf(ROUTES.workBlob, { sha256 }), {
        signal,
        headers: size ? { range: `bytes=${size}-` } : {},
      }).catch((error) => {
        // nothing is missing at its end
        if (error instanceof Refused && error.status === 416) return null;
        throw error;
      });
      if (!response) return;
      const flags = response.status === 206 ? 'a' : 'w';
      await pipeline(Readable.fromWeb(response.body as never), createWriteStream(path, { flags }));
    }, signal);
  }

  /** Sends a file, from where it broke off, unless the server has it. */
  async sendBlob(sha256: string, path: string, signal: AbortSignal): Promise<void> {
    const { size } = await stat(path);
    const params = { sha256 };
    // one that is sent in a moment is not asked for first
    let isAsked = size > ASK_BYTES;
    await this.insist(async () => {
      for (;;) {
        const { isThere, receivedBytes: from } = isAsked
          ? await this.call(ROUTES.workSent, { params, signal })
          : { isThere: false, receivedBytes: 0 };
        if (isThere) return;
        isAsked = true;
        try {
          const response = await this.ask(pathOf(ROUTES.workSend, params), {
            method: 'PUT',
            signal,
            headers: {
              'content-type': 'application/octet-stream',
              'content-range': `bytes ${from}-${size - 1}/${size}`,
            },
            body: Readable.toWeb(createReadStream(path, { start: from })) as ReadableStream,
            duplex: 'half',
          } as RequestInit);
          if (((await response.json()) as Sent).isThere) return;
        } catch (error) {
          // another machine sends the same bytes: its end is waited for
          if (!(error instanceof Refused && error.status === 409)) throw error;
          await wait(FIRST_WAIT_MS, undefined, { signal });
        }
      }
    }, signal);
  }

  private async ask(path: string, options: RequestInit): Promise<Response> {
    const response = await fetch(`${this.origin}${path}`, {
      ...options,
      headers: { ...options.headers, authorization: `Bearer ${this.token}` },
    });
    if (response.ok) return response;
    const text = await response.text();
    throw new Refused(response.status, problemIn(text) ?? plainProblem(response));
  }
}

/** Codes of what is wrong on this machine and not on the way. */
const OWN = ['ENOSPC', 'EDQUOT', 'ENOENT', 'EACCES', 'EROFS', 'EIO'];
const isOwnFault = (error: unknown): boolean => OWN.includes((error as NodeJS.ErrnoException).code ?? '');

function problemIn(text: string): Problem | undefined {
  try {
    const problem = JSON.parse(text) as Problem;
    return typeof problem.code === 'string' ? problem : undefined;
  } catch {
    return undefined;
  }
}

/** What a proxy says is no problem of ours. */
const plainProblem = ({ status, statusText }: Response) =>
  ({ code: 'no-tonos', detail: `The server answers ${status} ${statusText}.` }) as Problem;

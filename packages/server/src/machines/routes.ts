import { readFile } from 'node:fs/promises';
import { type Claimed, type Completion, ROUTES } from '@tonos/contract';
import type { TonosError } from '@tonos/core';
import { type Request, type RequestHandler, raw } from 'express';
import { HttpProblem, notFound } from '../http/problems.ts';
import { sendFile } from '../http/send-file.ts';
import { type Call, type Calls, serve } from '../http/serve.ts';
import { PARCEL, PARCEL_BYTES, type Parcel, packParcel, unpackParcel } from '../jobs/parcel.ts';
import { filesOf, type Payload } from '../jobs/payload.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Incoming, Stretch } from './incoming.ts';
import type { MachineService } from './machine-service.ts';
import type { WorkerTokenEntity } from './worker-token-entity.ts';
import type { WorkerTokens } from './worker-tokens.ts';

interface MachineRoutesNeeds {
  machines: MachineService;
  tokens: WorkerTokens;
  incoming: Incoming;
  store: BlobStore;
}

/** By which token a machine speaks: the gate has found it. */
const tokenOf = ({ response }: Pick<Call<unknown>, 'response'>) => response.locals.workerToken as WorkerTokenEntity;

export function machineRoutes(calls: Calls, { machines, tokens, incoming, store }: MachineRoutesNeeds): void {
  serve(calls, ROUTES.machines, () => machines.list());
  serve(calls, ROUTES.drainMachine, ({ params }) => machines.setDraining(params.id, true));
  serve(calls, ROUTES.resumeMachine, ({ params }) => machines.setDraining(params.id, false));
  serve(calls, ROUTES.forgetMachine, ({ params }) => machines.forget(params.id));
  serve(calls, ROUTES.workerTokens, () => tokens.list());
  serve(calls, ROUTES.makeWorkerToken, ({ body }) => tokens.make(body.name));
  serve(calls, ROUTES.endWorkerToken, ({ params }) => tokens.end(params.id));

  serve(calls, ROUTES.workHello, (call) => machines.hello(tokenOf(call), call.body));
  const next = async (call: Call<{ machine: string }>): Promise<Claimed> => {
    const taken = await machines.claim(tokenOf(call), call.body.machine);
    const reply = { work: taken ? { fence: taken.claim.fence, payload: taken.payload } : null };
    if (taken && call.request.headers.accept?.includes(PARCEL))
      call.response.type(PARCEL).send(packParcel({ head: reply, files: await alongWith(taken.payload, store) }));
    return reply;
  };
  serve(calls, ROUTES.workClaim, next);
  serve(calls, ROUTES.workBeat, (call) => machines.beat(tokenOf(call), call.body));
  const complete = async (call: Call<Completion>): Promise<Claimed> => {
    await machines.complete(tokenOf(call), call.body);
    return call.body.takesNext ? next(call) : { work: null };
  };
  serve(calls, ROUTES.workComplete, complete, [raw({ type: PARCEL, limit: MOST_PARCEL_BYTES }), takeFiles(incoming)]);
  serve(calls, ROUTES.workRelease, (call) => machines.release(tokenOf(call), call.body.machine, call.body.fence));
  serve(calls, ROUTES.workBlob, async (call) => {
    const { sha256 } = call.params;
    await machines.checkReads(tokenOf(call), sha256);
    if (!(await store.find(sha256))) throw notFound('file', sha256);
    await sendFile(call.response, {
      path: store.pathOf(sha256),
      mediaType: 'application/octet-stream',
      name: `${sha256}.bin`,
    });
  });
  serve(calls, ROUTES.workSent, ({ params }) => incoming.state(hashIn(params)));
  serve(calls, ROUTES.workSend, ({ params, request }) => incoming.take(hashIn(params), stretchOf(request), request));
}

function hashIn({ sha256 }: Readonly<Record<string, string>>): string {
  if (!/^[0-9a-f]{64}$/.test(sha256)) throw notFound('file', sha256);
  return sha256;
}

/** Figures of a night's programme are long. */
const MOST_PARCEL_BYTES = 64 * 1024 ** 2;

/** Takes the files that came along with a call, and leaves the call. */
const takeFiles =
  (incoming: Incoming): RequestHandler =>
  async (request, _, next) => {
    if (!Buffer.isBuffer(request.body)) return next();
    const { head, files } = unpacked(request.body);
    for (const [sha256, bytes] of files) await incoming.put(hashIn({ sha256 }), bytes);
    request.body = head;
    next();
  };

/** @throws HttpProblem 400 `broken-parcel` */
function unpacked(bytes: Buffer): Parcel<unknown> {
  try {
    return unpackParcel(bytes);
  } catch (error) {
    const { code, message } = error as TonosError;
    throw new HttpProblem(400, code, message);
  }
}

/** The files of a piece of work, as far as they can travel along. One that is not there is told of where it is asked for. */
async function alongWith(payload: Payload, store: BlobStore): Promise<Parcel<unknown>['files']> {
  const files = new Map<string, Uint8Array>();
  let left = PARCEL_BYTES;
  for (const sha256 of filesOf(payload)) {
    const found = await store.find(sha256);
    if (!found || found.sizeBytes > left) continue;
    const bytes = await readFile(store.pathOf(sha256)).catch(() => null);
    if (bytes) files.set(sha256, bytes);
    left -= found.sizeBytes;
  }
  return files;
}

/** The largest file that a machine may send. */
const MOST_BYTES = 64 * 1024 ** 3;

/** Of `Content-Range: bytes 5-9/10`. @throws HttpProblem 400 */
function stretchOf(request: Request): Stretch {
  const said = request.headers['content-range'] ?? '';
  const [, from, , total] = /^bytes (\d+)-(\d+)\/(\d+)$/.exec(said) ?? [];
  const whole = Number(request.headers['content-length'] ?? Number.NaN);
  const stretch = said ? { from: Number(from), total: Number(total) } : { from: 0, total: whole };
  if (!(stretch.from < stretch.total && stretch.total <= MOST_BYTES))
    throw new HttpProblem(400, 'bad-range', 'Say by Content-Range which bytes of how many come, such as bytes 0-9/10.');
  return stretch;
}

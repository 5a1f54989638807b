import { type Claimed, ROUTES } from '@tonos/contract';
import type { Request } from 'express';
import { HttpProblem, notFound } from '../http/problems.ts';
import { sendFile } from '../http/send-file.ts';
import { type Call, type Calls, serve } from '../http/serve.ts';
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
    return { work: taken ? { fence: taken.claim.fence, payload: taken.payload } : null };
  };
  serve(calls, ROUTES.workClaim, next);
  serve(calls, ROUTES.workBeat, (call) => machines.beat(tokenOf(call), call.body));
  serve(calls, ROUTES.workComplete, async (call) => {
    await machines.complete(tokenOf(call), call.body);
    return call.body.takesNext ? next(call) : { work: null };
  });
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

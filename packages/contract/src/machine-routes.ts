import * as z from 'zod';
import {
  beat,
  beaten,
  claimed,
  claimRequest,
  completion,
  hello,
  machines,
  newWorkerToken,
  release,
  sent,
  standingOfMachine,
  workerToken,
  workerTokenMade,
} from './machine.ts';
import { engineer, lead, owner, worker } from './route.ts';

/** Machines that work along. */
export const MACHINE_ROUTES = {
  machines: engineer.get('/api/machines', 'The machines that work along, and the queue that rings for them.', {
    reply: machines,
  }),
  drainMachine: lead.post('/api/machines/:id/drain', 'Let a machine end what it has, and give it nothing new.', {
    status: 204,
  }),
  resumeMachine: lead.post('/api/machines/:id/resume', 'Take a machine back in.', { status: 204 }),
  forgetMachine: lead.remove('/api/machines/:id', 'Forget a machine that is gone.'),
  workerTokens: owner.get('/api/worker-tokens', 'The tokens by which machines work along.', {
    reply: z.array(workerToken),
  }),
  makeWorkerToken: owner.post('/api/worker-tokens', 'A token by which machines work along; it is told this once.', {
    body: newWorkerToken,
    reply: workerTokenMade,
  }),
  endWorkerToken: owner.remove('/api/worker-tokens/:id', 'A token that is good no more.'),

  workHello: worker.post('/api/work/hello', 'A machine says who it is.', {
    body: hello,
    reply: standingOfMachine,
    status: 200,
  }),
  workClaim: worker.post('/api/work/claim', 'Take the next piece of work.', {
    body: claimRequest,
    reply: claimed,
    status: 200,
  }),
  workBeat: worker.post('/api/work/beat', 'How a machine is, and how far its work; holds that for another term.', {
    body: beat,
    reply: beaten,
    status: 200,
  }),
  workComplete: worker.post('/api/work/complete', 'How a piece of work ended, and what comes next.', {
    body: completion,
    reply: claimed,
    status: 200,
  }),
  workRelease: worker.post('/api/work/release', 'Give a piece of work back.', { body: release, status: 204 }),
  workBlob: worker.get('/api/work/blobs/:sha256', 'A file that a machine works on, with ranges.', {
    streams: 'application/octet-stream',
  }),
  workSent: worker.get('/api/work/sent/:sha256', 'What the server has of a file that is sent.', { reply: sent }),
  workSend: worker.put('/api/work/blobs/:sha256', 'Send a file on, from where the Content-Range begins.', {
    takes: 'application/octet-stream',
    reply: sent,
  }),
} as const;

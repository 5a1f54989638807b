import { ROUTES } from '@tonos/contract';
import { all, ask, type Body, type Build, byId, change } from './endpoint.ts';

/** Machines that work along, and their tokens. */
export const machineEndpoints = (build: Build) => ({
  machines: ask(build, ROUTES.machines, all, ['Machines']),
  drainMachine: change(build, ROUTES.drainMachine, byId, ['Machines']),
  resumeMachine: change(build, ROUTES.resumeMachine, byId, ['Machines']),
  forgetMachine: change(build, ROUTES.forgetMachine, byId, ['Machines']),
  workerTokens: ask(build, ROUTES.workerTokens, all, ['Machines']),
  makeWorkerToken: change(build, ROUTES.makeWorkerToken, (body: Body<'makeWorkerToken'>) => ({ body }), ['Machines']),
  endWorkerToken: change(build, ROUTES.endWorkerToken, byId, ['Machines']),
});

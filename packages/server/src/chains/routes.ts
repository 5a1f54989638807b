import { ROUTES } from '@tonos/contract';
import { catalogue } from '@tonos/core';
import type { Router } from 'express';
import { HttpProblem } from '../http/problems.ts';
import { serve } from '../http/serve.ts';
import type { ChainService } from './chain-service.ts';

export function chainRoutes(router: Router, chains: ChainService): void {
  serve(router, ROUTES.steps, () => catalogue());
  serve(router, ROUTES.chains, () => chains.list());
  serve(router, ROUTES.addChain, ({ body }) => chains.add(body));
  serve(router, ROUTES.chain, ({ params }) => chains.get(params.id));
  serve(router, ROUTES.revision, ({ params }) => {
    const number = Number(params.revision);
    if (!Number.isSafeInteger(number))
      throw new HttpProblem(404, 'not-found', `"${params.revision}" is no revision number.`);
    return chains.revision(params.id, number);
  });
  serve(router, ROUTES.changeChain, ({ params, body }) => chains.change(params.id, body));
  serve(router, ROUTES.removeChain, ({ params }) => chains.remove(params.id));
  serve(router, ROUTES.keepRevision, ({ params, body }) => chains.keep(params.id, body));
  serve(router, ROUTES.saveDraft, ({ params, body }) => chains.saveDraft(params.id, body));
  serve(router, ROUTES.dropDraft, ({ params }) => chains.dropDraft(params.id));
}

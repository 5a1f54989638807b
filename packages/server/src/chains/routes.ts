import { type Chain, ROUTES } from '@tonos/contract';
import { catalogue } from '@tonos/core';
import type { Response, Router } from 'express';
import { HttpProblem } from '../http/problems.ts';
import { serve } from '../http/serve.ts';
import { sayVersion, seenVersion } from '../http/version-header.ts';
import type { ChainService } from './chain-service.ts';

export function chainRoutes(router: Router, chains: ChainService): void {
  serve(router, ROUTES.steps, () => catalogue());
  serve(router, ROUTES.chains, () => chains.list());
  serve(router, ROUTES.addChain, ({ body }) => chains.add(body));
  const tagged = (response: Response, chain: Chain): Chain => {
    sayVersion(response, chain.version);
    return chain;
  };
  serve(router, ROUTES.chain, async ({ params, response }) => tagged(response, await chains.get(params.id)));
  serve(router, ROUTES.revision, ({ params }) => {
    const number = Number(params.revision);
    if (!Number.isSafeInteger(number))
      throw new HttpProblem(404, 'not-found', `"${params.revision}" is no revision number.`);
    return chains.revision(params.id, number);
  });
  serve(router, ROUTES.changeChain, ({ params, body }) => chains.change(params.id, body));
  serve(router, ROUTES.keepRevision, async ({ params, body, request, response }) =>
    tagged(response, await chains.keep(params.id, body, seenVersion(request))),
  );
  serve(router, ROUTES.saveDraft, async ({ params, body, request, response }) =>
    tagged(response, await chains.saveDraft(params.id, body, seenVersion(request))),
  );
  serve(router, ROUTES.dropDraft, async ({ params, request, response }) => {
    sayVersion(response, await chains.dropDraft(params.id, seenVersion(request)));
    return undefined;
  });
}

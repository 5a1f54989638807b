import { ROUTES } from '@tonos/contract';
import { catalogue } from '@tonos/core';
import type { Router } from 'express';
import { serve } from '../http/serve.ts';
import { revisionNumber, sayVersion, seenVersion, tagged } from '../http/version-header.ts';
import type { ChainService } from './chain-service.ts';

export function chainRoutes(router: Router, chains: ChainService): void {
  serve(router, ROUTES.steps, () => catalogue());
  serve(router, ROUTES.chains, () => chains.list());
  serve(router, ROUTES.addChain, ({ body }) => chains.add(body));
  serve(router, ROUTES.chain, async ({ params, response }) => tagged(response, await chains.get(params.id)));
  serve(router, ROUTES.revision, ({ params }) => chains.revision(params.id, revisionNumber(params.revision)));
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

import { ROUTES } from '@tonos/contract';
import { catalogue } from '@tonos/core';
import { type Calls, serve } from '../http/serve.ts';
import { revisionNumber, sayVersion, seenVersion, tagged } from '../http/version-header.ts';
import type { ChainService } from './chain-service.ts';

export function chainRoutes(calls: Calls, chains: ChainService): void {
  serve(calls, ROUTES.steps, () => catalogue());
  serve(calls, ROUTES.chains, () => chains.list());
  serve(calls, ROUTES.addChain, ({ body }) => chains.add(body));
  serve(calls, ROUTES.chain, async ({ params, response }) => tagged(response, await chains.get(params.id)));
  serve(calls, ROUTES.revision, ({ params }) => chains.revision(params.id, revisionNumber(params.revision)));
  serve(calls, ROUTES.changeChain, ({ params, body }) => chains.change(params.id, body));
  serve(calls, ROUTES.keepRevision, async ({ params, body, request, response }) =>
    tagged(response, await chains.keep(params.id, body, seenVersion(request))),
  );
  serve(calls, ROUTES.saveDraft, async ({ params, body, request, response }) =>
    tagged(response, await chains.saveDraft(params.id, body, seenVersion(request))),
  );
  serve(calls, ROUTES.approveChain, ({ params, body }) =>
    chains.approve(params.id, revisionNumber(params.revision), body),
  );
  serve(calls, ROUTES.withdrawChainApproval, async ({ params }) => {
    await chains.approve(params.id, revisionNumber(params.revision), null);
    return undefined;
  });
  serve(calls, ROUTES.dropDraft, async ({ params, request, response }) => {
    sayVersion(response, await chains.dropDraft(params.id, seenVersion(request)));
    return undefined;
  });
}

import { ROUTES } from '@tonos/contract';
import { csvText } from '@tonos/delivery';
import { type Calls, serve } from '../http/serve.ts';
import type { AccountService } from './account-service.ts';

export function accountRoutes(calls: Calls, account: AccountService): void {
  serve(calls, ROUTES.account, async ({ query, caller, request, response }) => {
    const entries = await account.list(query, caller!);
    if (request.accepts('json', 'text/csv') !== 'text/csv') return entries;
    const rows = entries.map(({ at, person, kind, sentence }) => [at, person.name, kind, sentence]);
    response
      .attachment('account.csv')
      .type('text/csv')
      .send(csvText([['When', 'Who', 'About', 'What'], ...rows]));
    return [];
  });
}

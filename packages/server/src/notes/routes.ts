import { ROUTES } from '@tonos/contract';
import { type Calls, serve } from '../http/serve.ts';
import type { NoteService } from './note-service.ts';

export function noteRoutes(calls: Calls, notes: NoteService): void {
  serve(calls, ROUTES.notes, ({ query }) => notes.list(query));
  serve(calls, ROUTES.openForMe, () => notes.openForMe());
  serve(calls, ROUTES.addNote, ({ body }) => notes.add(body));
  serve(calls, ROUTES.changeNote, ({ params, body }) => notes.change(params.id, body));
  serve(calls, ROUTES.removeNote, ({ params }) => notes.remove(params.id));
}

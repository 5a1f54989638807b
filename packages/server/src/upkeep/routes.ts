import { ROUTES } from '@tonos/contract';
import { goneSignal } from '../http/send-lines.ts';
import { type Calls, serve } from '../http/serve.ts';
import type { StorageService } from './storage-service.ts';
import type { TrashService } from './trash-service.ts';

export function storageRoutes(calls: Calls, storage: StorageService): void {
  serve(calls, ROUTES.storage, () => storage.account());
  serve(calls, ROUTES.clearUnused, () => storage.clearUnused());
  serve(calls, ROUTES.clearRenders, ({ body }) => storage.clearRenders(body.titleId));
  serve(calls, ROUTES.checkStorage, ({ response }) => storage.check(goneSignal(response)));
}

export function trashRoutes(calls: Calls, trash: TrashService): void {
  serve(calls, ROUTES.removeTitle, ({ params }) => trash.put('title', params.id));
  serve(calls, ROUTES.removeRecording, ({ params }) => trash.put('recording', params.id));
  serve(calls, ROUTES.removeRun, ({ params }) => trash.put('run', params.id));
  serve(calls, ROUTES.removeChain, ({ params }) => trash.put('chain', params.id));
  serve(calls, ROUTES.removeTarget, ({ params }) => trash.put('target', params.id));
  serve(calls, ROUTES.removePreset, ({ params }) => trash.put('preset', params.id));
  serve(calls, ROUTES.removeModule, ({ params }) => trash.put('module', params.id));
  serve(calls, ROUTES.removeOrder, ({ params }) => trash.put('order', params.id));
  serve(calls, ROUTES.trash, () => trash.list());
  serve(calls, ROUTES.restoreTrashed, ({ body: { kind, id } }) => trash.restore(kind, id));
  serve(calls, ROUTES.emptyTrash, ({ body }) => trash.empty(body));
}

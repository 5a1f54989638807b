import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { goneSignal } from '../http/send-lines.ts';
import { serve } from '../http/serve.ts';
import type { StorageService } from './storage-service.ts';
import type { TrashService } from './trash-service.ts';

export function storageRoutes(router: Router, storage: StorageService): void {
  serve(router, ROUTES.storage, () => storage.account());
  serve(router, ROUTES.clearUnused, () => storage.clearUnused());
  serve(router, ROUTES.clearRenders, ({ body }) => storage.clearRenders(body.titleId));
  serve(router, ROUTES.checkStorage, ({ response }) => storage.check(goneSignal(response)));
}

export function trashRoutes(router: Router, trash: TrashService): void {
  serve(router, ROUTES.removeTitle, ({ params }) => trash.put('title', params.id));
  serve(router, ROUTES.removeRecording, ({ params }) => trash.put('recording', params.id));
  serve(router, ROUTES.removeRun, ({ params }) => trash.put('run', params.id));
  serve(router, ROUTES.removeChain, ({ params }) => trash.put('chain', params.id));
  serve(router, ROUTES.removeTarget, ({ params }) => trash.put('target', params.id));
  serve(router, ROUTES.removePreset, ({ params }) => trash.put('preset', params.id));
  serve(router, ROUTES.removeOrder, ({ params }) => trash.put('order', params.id));
  serve(router, ROUTES.trash, () => trash.list());
  serve(router, ROUTES.restoreTrashed, ({ body: { kind, id } }) => trash.restore(kind, id));
  serve(router, ROUTES.emptyTrash, ({ body }) => trash.empty(body));
}

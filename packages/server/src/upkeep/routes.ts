import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { goneSignal } from '../http/send-lines.ts';
import { serve } from '../http/serve.ts';
import type { StorageService } from './storage-service.ts';

export function storageRoutes(router: Router, storage: StorageService): void {
  serve(router, ROUTES.storage, () => storage.account());
  serve(router, ROUTES.clearUnused, () => storage.clearUnused());
  serve(router, ROUTES.clearRenders, ({ body }) => storage.clearRenders(body.titleId));
  serve(router, ROUTES.checkStorage, ({ response }) => storage.check(goneSignal(response)));
}

import { ROUTES } from '@tonos/contract';
import { MODULE_LIMITS } from '@tonos/core';
import express from 'express';
import { sendFile } from '../http/send-file.ts';
import { type Calls, serve } from '../http/serve.ts';
import type { ModuleService } from './module-service.ts';

export function moduleRoutes(calls: Calls, modules: ModuleService): void {
  serve(calls, ROUTES.modules, () => modules.list());
  serve(calls, ROUTES.moduleFile, async ({ params, response }) =>
    sendFile(response, await modules.file(params.sha256)),
  );
  serve(
    calls,
    ROUTES.addModule,
    ({ query, request }) => modules.add(Buffer.isBuffer(request.body) ? request.body : new Uint8Array(), query.name),
    express.raw({ type: () => true, limit: MODULE_LIMITS.fileBytes }),
  );
}

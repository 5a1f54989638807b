import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { serve } from '../http/serve.ts';
import type { PresetService } from './preset-service.ts';

export function presetRoutes(router: Router, presets: PresetService): void {
  serve(router, ROUTES.presets, () => presets.list());
  serve(router, ROUTES.addPreset, ({ body }) => presets.add(body));
  serve(router, ROUTES.changePreset, ({ params, body }) => presets.change(params.id, body));
}

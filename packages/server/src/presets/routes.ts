import { ROUTES } from '@tonos/contract';
import { type Calls, serve } from '../http/serve.ts';
import type { PresetService } from './preset-service.ts';

export function presetRoutes(calls: Calls, presets: PresetService): void {
  serve(calls, ROUTES.presets, () => presets.list());
  serve(calls, ROUTES.addPreset, ({ body }) => presets.add(body));
  serve(calls, ROUTES.changePreset, ({ params, body }) => presets.change(params.id, body));
}

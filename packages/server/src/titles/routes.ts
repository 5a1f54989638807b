import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { serve } from '../http/serve.ts';
import type { TitleService } from './title-service.ts';

export function titleRoutes(router: Router, titles: TitleService): void {
  serve(router, ROUTES.titles, () => titles.list());
  serve(router, ROUTES.addTitle, ({ body }) => titles.add(body));
  serve(router, ROUTES.title, ({ params }) => titles.get(params.id));
  serve(router, ROUTES.changeTitle, ({ params, body }) => titles.change(params.id, body));
}

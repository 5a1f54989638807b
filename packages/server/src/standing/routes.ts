import { ROUTES } from '@tonos/contract';
import type { Router } from 'express';
import { serve } from '../http/serve.ts';
import type { StandingService } from './standing-service.ts';
import type { TodayService } from './today-service.ts';

export function standingRoutes(router: Router, standing: StandingService, today: TodayService): void {
  serve(router, ROUTES.standings, () => standing.counted());
  serve(router, ROUTES.standing, ({ params }) => standing.of(params.id));
  serve(router, ROUTES.figures, ({ params }) => standing.figures(params.id));
  serve(router, ROUTES.today, () => today.look());
}

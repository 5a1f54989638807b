import { ROUTES } from '@tonos/contract';
import { type Calls, serve } from '../http/serve.ts';
import type { StandingService } from './standing-service.ts';
import type { TodayService } from './today-service.ts';

export function standingRoutes(calls: Calls, standing: StandingService, today: TodayService): void {
  serve(calls, ROUTES.standings, () => standing.counted());
  serve(calls, ROUTES.standing, ({ params }) => standing.textOf(params.id));
  serve(calls, ROUTES.figures, ({ params }) => standing.figures(params.id));
  serve(calls, ROUTES.today, () => today.look());
}

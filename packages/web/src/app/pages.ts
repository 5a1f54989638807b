import type { ComponentType } from 'react';
import { notCome } from '../ui/not-come.ts';
import { firstQuestions, type Question } from './first-questions.ts';

type Load = () => Promise<{ Component: ComponentType }>;

/** A page by the name that its file gives it. */
export const page =
  <T extends string>(load: () => Promise<Record<T, ComponentType>>, name: T): Load =>
  async () => ({ Component: (await load().catch(notCome))[name] });

/** What is shown at which address: each page is a file of its own, fetched when it is first looked at. */
export const PAGES: Readonly<Record<string, Load>> = {
  '/': page(() => import('../features/today/index.ts'), 'TodayPage'),
  '/titles': page(() => import('../features/titles/index.ts'), 'TitlesPage'),
  '/titles/:id': page(() => import('../features/title/index.ts'), 'TitlePage'),
  '/titles/:id/figures': page(() => import('../features/title-figures/index.ts'), 'TitleFiguresPage'),
  '/recordings/:id': page(() => import('../features/bench/index.ts'), 'BenchPage'),
  '/chains': page(() => import('../features/chains/index.ts'), 'ChainsPage'),
  '/chains/:id': page(() => import('../features/chain-editor/index.ts'), 'ChainPage'),
  '/orders/:id': page(() => import('../features/running-order/index.ts'), 'OrderPage'),
  '/targets': page(() => import('../features/targets/index.ts'), 'TargetsPage'),
  '/runs': page(() => import('../features/runs/index.ts'), 'RunsPage'),
  '/runs/:id': page(() => import('../features/run-board/index.ts'), 'RunBoardPage'),
  '/runs/:id/beside/:other': page(() => import('../features/run-board/index.ts'), 'RunsBesidePage'),
  '/trash': page(() => import('../features/trash/index.ts'), 'TrashPage'),
  '/outside': page(() => import('../features/outside/index.ts'), 'OutsidePage'),
  '/modules': page(() => import('../features/modules/index.ts'), 'ModulesPage'),
  '/machines': page(() => import('../features/machines/index.ts'), 'MachinesPage'),
  '/people': page(() => import('../features/people/index.ts'), 'PeoplePage'),
  '/for-you': page(() => import('../features/people/index.ts'), 'ForMePage'),
  '/you': page(() => import('../features/people/index.ts'), 'YouPage'),
  '/account': page(() => import('../features/people/index.ts'), 'AccountPage'),
  '/storage': page(() => import('../features/storage/index.ts'), 'StoragePage'),
};

/** What shows an address, and what it asks first; undefined where nothing does. */
export function pageAt(address: string): { path: string; load: Load; questions: readonly Question[] } | undefined {
  for (const [path, load] of Object.entries(PAGES)) {
    const found = new RegExp(`^${path.replaceAll(/:\w+/g, '([^/]+)')}/?$`).exec(address);
    if (found) return { path, load, questions: firstQuestions(path, found[1]) };
  }
  return undefined;
}

import '@mantine/core/styles.css';
import '@mantine/dropzone/styles.css';
import '@mantine/notifications/styles.css';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/newsreader';
import './tokens.css';
import './base.css';
import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { Provider } from 'react-redux';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { JoinPage, SetUpPage, WayBackPage } from '../features/entry/index.ts';
import { Door } from './Door.tsx';
import { PageFault } from './PageFault.tsx';
import { store } from './store.ts';
import { theme, variables } from './theme.ts';

const page = <T extends string>(load: () => Promise<Record<T, React.ComponentType>>, name: T) => ({
  lazy: async () => ({ Component: (await load())[name] }),
});

const router = createBrowserRouter([
  { path: '/setup', Component: SetUpPage },
  { path: '/join', Component: JoinPage },
  { path: '/way-back', Component: WayBackPage },
  {
    path: '/',
    Component: Door,
    HydrateFallback: () => null,
    ErrorBoundary: PageFault,
    children: [
      {
        ErrorBoundary: PageFault,
        children: [
          { index: true, ...page(() => import('../features/today/index.ts'), 'TodayPage') },
          { path: 'titles', ...page(() => import('../features/titles/index.ts'), 'TitlesPage') },
          { path: 'titles/:id', ...page(() => import('../features/title/index.ts'), 'TitlePage') },
          {
            path: 'titles/:id/figures',
            ...page(() => import('../features/title-figures/index.ts'), 'TitleFiguresPage'),
          },
          { path: 'recordings/:id', ...page(() => import('../features/bench/index.ts'), 'BenchPage') },
          { path: 'chains', ...page(() => import('../features/chains/index.ts'), 'ChainsPage') },
          { path: 'chains/:id', ...page(() => import('../features/chain-editor/index.ts'), 'ChainPage') },
          { path: 'orders/:id', ...page(() => import('../features/running-order/index.ts'), 'OrderPage') },
          { path: 'targets', ...page(() => import('../features/targets/index.ts'), 'TargetsPage') },
          { path: 'runs', ...page(() => import('../features/runs/index.ts'), 'RunsPage') },
          { path: 'runs/:id', ...page(() => import('../features/run-board/index.ts'), 'RunBoardPage') },
          { path: 'runs/:id/beside/:other', ...page(() => import('../features/run-board/index.ts'), 'RunsBesidePage') },
          { path: 'trash', ...page(() => import('../features/trash/index.ts'), 'TrashPage') },
          { path: 'outside', ...page(() => import('../features/outside/index.ts'), 'OutsidePage') },
          { path: 'modules', ...page(() => import('../features/modules/index.ts'), 'ModulesPage') },
          { path: 'machines', ...page(() => import('../features/machines/index.ts'), 'MachinesPage') },
          { path: 'people', ...page(() => import('../features/people/index.ts'), 'PeoplePage') },
          { path: 'for-you', ...page(() => import('../features/people/index.ts'), 'ForMePage') },
          { path: 'you', ...page(() => import('../features/people/index.ts'), 'YouPage') },
          { path: 'account', ...page(() => import('../features/people/index.ts'), 'AccountPage') },
          { path: 'storage', ...page(() => import('../features/storage/index.ts'), 'StoragePage') },
          { path: '*', ...page(() => import('./NotFound.tsx'), 'NotFound') },
        ],
      },
    ],
  },
]);

export function App() {
  return (
    <Provider store={store}>
      <MantineProvider theme={theme} cssVariablesResolver={variables} defaultColorScheme="auto">
        <Notifications position="top-right" />
        <RouterProvider router={router} />
      </MantineProvider>
    </Provider>
  );
}

import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { type ComponentType, useState } from 'react';
import { Provider } from 'react-redux';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { Door } from './Door.tsx';
import { PageFault } from './PageFault.tsx';
import { PAGES, page } from './pages.ts';
import { store } from './store.ts';
import { theme, variables } from './theme.ts';

const entry = () => import('../features/entry/index.ts');

const Nothing = () => null;

export interface OpenedPage {
  path: string;
  Component: ComponentType;
}

/**
 * @param opened the page that the address shows, where its program is there: it is drawn with the first frame. What a router still has to
 * load it draws behind everything else.
 */
const routerWith = (opened: OpenedPage | undefined) =>
  createBrowserRouter([
    {
      HydrateFallback: Nothing,
      ErrorBoundary: PageFault,
      children: [
        { path: '/setup', lazy: page(entry, 'SetUpPage') },
        { path: '/join', lazy: page(entry, 'JoinPage') },
        { path: '/way-back', lazy: page(entry, 'WayBackPage') },
        {
          path: '/',
          Component: Door,
          children: [
            {
              ErrorBoundary: PageFault,
              children: [
                ...Object.entries(PAGES).map(([path, lazy]) =>
                  path === opened?.path ? { path, Component: opened.Component } : { path, lazy },
                ),
                { path: '*', lazy: page(() => import('./NotFound.tsx'), 'NotFound') },
              ],
            },
          ],
        },
      ],
    },
  ]);

export function App({ opened }: { opened: OpenedPage | undefined }) {
  const [router] = useState(() => routerWith(opened));
  return (
    <Provider store={store}>
      <MantineProvider theme={theme} cssVariablesResolver={variables} defaultColorScheme="auto">
        <Notifications position="top-right" />
        <RouterProvider router={router} />
      </MantineProvider>
    </Provider>
  );
}

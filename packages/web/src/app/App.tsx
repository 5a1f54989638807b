import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { Provider } from 'react-redux';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { Door } from './Door.tsx';
import { PageFault } from './PageFault.tsx';
import { PAGES } from './pages.ts';
import { store } from './store.ts';
import { theme, variables } from './theme.ts';

const entry = (name: 'SetUpPage' | 'JoinPage' | 'WayBackPage') => async () => ({
  Component: (await import('../features/entry/index.ts'))[name],
});

const router = createBrowserRouter([
  { path: '/setup', lazy: entry('SetUpPage') },
  { path: '/join', lazy: entry('JoinPage') },
  { path: '/way-back', lazy: entry('WayBackPage') },
  {
    path: '/',
    Component: Door,
    HydrateFallback: () => null,
    ErrorBoundary: PageFault,
    children: [
      {
        ErrorBoundary: PageFault,
        children: [
          ...Object.entries(PAGES).map(([path, lazy]) => ({ path, lazy })),
          { path: '*', lazy: async () => ({ Component: (await import('./NotFound.tsx')).NotFound }) },
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

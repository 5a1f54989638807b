import { renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import { makeStore } from '../app/store.ts';

/** A hook in a page with a store of its own. */
export function hookInPage<Props, Result>(hook: (props: Props) => Result, initialProps: Props) {
  const store = makeStore();
  const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
  return { store, ...renderHook(hook, { wrapper, initialProps }) };
}

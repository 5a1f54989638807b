import { api } from '../api/api.ts';
import { SignInPage } from '../features/entry/index.ts';
import { Shell } from './Shell.tsx';

/** The pages, for who is known; for who is not, the way in. The address stays, and what was under work too. */
export function Door() {
  const { data, error, isLoading } = api.useMeQuery();
  if (isLoading) return null;
  if ((error as { status?: unknown } | undefined)?.status === 401) return <SignInPage before={data} />;
  return <Shell />;
}

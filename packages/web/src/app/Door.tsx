import { api } from '../api/api.ts';
import { lazily } from '../ui/lazily.tsx';
import { Shell } from './Shell.tsx';

const SignInPage = lazily(async () => (await import('../features/entry/index.ts')).SignInPage);

/** The pages, for who is known; for who is not, the way in. The address stays, and what was under work too. */
export function Door() {
  const { data, error, isLoading } = api.useMeQuery();
  if (isLoading) return null;
  if ((error as { status?: unknown } | undefined)?.status === 401) return <SignInPage before={data} />;
  return <Shell />;
}

import { Anchor } from '@mantine/core';
import { type Me, ROUTES } from '@tonos/contract';
import { api, EVERYTHING } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { Entry, EntryForm } from './Entry.tsx';

/** Asks who is there. @param before who was, in this page: their work goes on when they are back, and nobody else's begins in it */
export function SignInPage({ before }: { before: Me | undefined }) {
  const dispatch = useAppDispatch();
  const [signIn] = api.useSignInMutation();
  const { data: ways } = api.useSignInWaysQuery();
  const enter = async (name: string, password: string) => {
    const { data, error } = await signIn({ name, password });
    if (!data) return { error };
    if (before && before.id !== data.person.id) location.assign('/');
    else dispatch(api.util.invalidateTags([...EVERYTHING]));
    return {};
  };
  const about = before
    ? 'You were signed out here. What you were working on is still in this page.'
    : 'Whoever has forgotten their password asks an owner for a link.';
  return (
    <Entry title="Sign in" about={about}>
      {ways?.provider && (
        <p>
          <Anchor href={ROUTES.toProvider.path}>{ways.provider}</Anchor>
        </p>
      )}
      {ways?.password !== false && <EntryForm named isNew={false} act="Sign in" onEnter={enter} />}
    </Entry>
  );
}

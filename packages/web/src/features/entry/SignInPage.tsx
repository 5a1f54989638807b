import { Button } from '@mantine/core';
import { type Me, ROUTES } from '@tonos/contract';
import { useSearchParams } from 'react-router';
import { api, EVERYTHING } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import classes from './Entry.module.css';
import { Entry, EntryForm } from './Entry.tsx';

/** Why the house's own sign-in let nobody in. */
const REFUSED: Readonly<Record<string, string>> = {
  'provider-away': 'The house’s own sign-in does not answer. Try again in a while, or sign in with a password.',
  'provider-refused': 'The house’s own sign-in did not say who you are. Try again from here.',
  'no-role': 'The house’s own sign-in knows you and names no role for you here. Ask whoever runs it.',
};

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
  const refused = REFUSED[useSearchParams()[0].get('refused') ?? ''];
  const about = before
    ? 'You were signed out here. What you were working on is still in this page.'
    : 'Whoever has forgotten their password asks an owner for a link.';
  return (
    <Entry title="Sign in" about={about}>
      {refused && (
        <p className={classes.refused} role="alert">
          {refused}
        </p>
      )}
      {ways?.provider && (
        <Button component="a" href={ROUTES.toProvider.path} variant="default" fullWidth my="md">
          {ways.provider}
        </Button>
      )}
      {ways?.password !== false && <EntryForm named isNew={false} act="Sign in" onEnter={enter} />}
    </Entry>
  );
}

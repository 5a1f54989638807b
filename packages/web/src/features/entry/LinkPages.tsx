import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api } from '../../api/api.ts';
import { Entry, EntryForm } from './Entry.tsx';

/** The token of the link, out of the address at once: nobody who looks at it later, or is sent it, has it. */
function useLinkToken(): string | null {
  const [query, setQuery] = useSearchParams();
  const [token] = useState(() => query.get('token'));
  if (query.has('token')) setTimeout(() => setQuery({}, { replace: true }));
  return token;
}

/** Into the application, as whoever came in. */
const goIn = () => location.assign('/');

const NotWhole = () => (
  <p>
    This address is not whole: open the link as it was given to you. <Link to="/">To the start</Link>
  </p>
);

/** The first owner. */
export function SetUpPage() {
  const token = useLinkToken();
  const [setUp] = api.useSetUpMutation();
  const enter = async (name: string, password: string) => {
    const { data, error } = await setUp({ token: token!, name, password });
    if (data) goIn();
    return { error };
  };
  return (
    <Entry title="Set Tonos up" about="You are its first owner: you invite the others, and may do everything.">
      {token ? <EntryForm named isNew act="Begin" onEnter={enter} /> : <NotWhole />}
    </Entry>
  );
}

/** Somebody who was invited. */
export function JoinPage() {
  const token = useLinkToken();
  const [join] = api.useJoinMutation();
  const enter = async (name: string, password: string) => {
    const { data, error } = await join({ token: token!, name, password });
    if (data) goIn();
    return { error };
  };
  return (
    <Entry title="Join" about="You were invited. Say how you are called, and how you sign in from now on.">
      {token ? <EntryForm named isNew act="Join" onEnter={enter} /> : <NotWhole />}
    </Entry>
  );
}

/** Somebody who has forgotten their password. */
export function WayBackPage() {
  const token = useLinkToken();
  const [setPassword] = api.useSetPasswordMutation();
  const enter = async (_: string, password: string) => {
    const { data, error } = await setPassword({ token: token!, password });
    if (data) goIn();
    return { error };
  };
  return (
    <Entry
      title="A new password"
      about="It takes the place of the old one. Wherever else you were signed in, you no longer are."
    >
      {token ? <EntryForm named={false} isNew act="Set it" onEnter={enter} /> : <NotWhole />}
    </Entry>
  );
}

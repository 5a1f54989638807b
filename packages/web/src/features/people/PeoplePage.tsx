import { Button, Group, Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import type { Invitation, Person } from '@tonos/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { CopyOnce } from '../../people/CopyOnce.tsx';
import { ROLE_WORDS } from '../../people/role-words.ts';
import { useMay, useMe } from '../../people/use-me.ts';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { moment } from '../../ui/time.ts';
import { InviteForm } from './InviteForm.tsx';
import classes from './People.module.css';
import { PersonForm } from './PersonForm.tsx';

/** Who works here and as what; for owners, who joins, who leaves, and who knows of which closed title. */
export function PeoplePage() {
  const me = useMe();
  const isOwner = useMay('owner');
  const { data: people, error, refetch } = api.usePeopleQuery();
  const { data: titles = [] } = api.useTitlesQuery();
  const [inviting, invite] = useDisclosure(false);
  const [changed, setChanged] = useState<Person | null>(null);
  const [leaving, setLeaving] = useState<Person | null>(null);
  const [link, setLink] = useState<{ name: string; url: string } | null>(null);
  const [change] = api.useChangePersonMutation();
  const [makeWayBack] = api.useMakeWayBackMutation();
  const nameOf = new Map(titles.map(({ id, name }) => [id, name]));
  const here = people?.filter(({ left }) => !left) ?? [];
  const gone = people?.filter(({ left }) => left) ?? [];
  const help = async ({ id, name }: Person) => {
    const { data, error: refused } = await makeWayBack(id);
    if (data) setLink({ name, url: data.url });
    else sayError('No link was made', refused);
  };
  const end = async ({ id, name }: Person) => {
    const { error: refused } = await change({ id, left: true });
    setLeaving(null);
    if (refused) sayError(`${name} is still here`, refused);
    else say(`${name} has left. Sessions and tokens are ended; what they did stays theirs.`);
  };
  return (
    <Page
      title="People"
      about={`${here.length} ${here.length === 1 ? 'person works' : 'people work'} here`}
      acts={
        isOwner && (
          <>
            <Button component={Link} to="/account" variant="default">
              Account
            </Button>
            <Button onClick={invite.open}>Invite</Button>
          </>
        )
      }
    >
      {error && <Trouble error={error} retry={refetch} />}
      <table className="ledger">
        <LedgerHead columns={['Name', 'Role', 'May', isOwner && 'Closed titles', 'Since']} acts={isOwner} />
        <tbody>
          {[...here, ...gone].map((person) => {
            const { id, name, role, left, createdAt, titles: known = [] } = person;
            return (
              <tr key={id} className={left ? classes.left : undefined}>
                <td className="name">
                  {name}
                  {id === me?.id && <span className="quiet small"> you</span>}
                </td>
                <td>{left ? 'has left' : role}</td>
                <td className="quiet small">{left ? '' : ROLE_WORDS[role]}</td>
                {isOwner && (
                  <td className="small">
                    {role === 'owner' && !left ? 'all' : known.flatMap((one) => nameOf.get(one) ?? []).join(', ')}
                  </td>
                )}
                <td className="quiet small">{moment(createdAt)}</td>
                {isOwner && (
                  <td>
                    {!left && (
                      <Group gap={8} justify="flex-end" wrap="nowrap">
                        <Button size="compact-xs" variant="default" onClick={() => setChanged(person)}>
                          Change
                        </Button>
                        <Button size="compact-xs" variant="subtle" onClick={() => void help(person)}>
                          New password
                        </Button>
                        <Button
                          size="compact-xs"
                          variant="subtle"
                          color="var(--over)"
                          onClick={() => setLeaving(person)}
                        >
                          Leaves
                        </Button>
                      </Group>
                    )}
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      {isOwner && <OpenInvitations nameOf={nameOf} />}
      <Modal opened={inviting} onClose={invite.close} title="Invite" size="lg">
        <InviteForm titles={titles} onDone={invite.close} />
      </Modal>
      <Modal opened={changed !== null} onClose={() => setChanged(null)} title={changed?.name} size="lg">
        {changed && <PersonForm person={changed} titles={titles} onDone={() => setChanged(null)} />}
      </Modal>
      <Modal opened={link !== null} onClose={() => setLink(null)} title={`A new password for ${link?.name}`} size="lg">
        {link && (
          <CopyOnce
            label="Link"
            description="Give it to them yourself. It is good once, for a day, and is not shown again."
            value={link.url}
          />
        )}
      </Modal>
      <Modal opened={leaving !== null} onClose={() => setLeaving(null)} title={`${leaving?.name} leaves`}>
        {leaving && (
          <>
            <p>
              Sessions, tokens and open pages end at once. What they did stays theirs. Who has left comes back only by
              an invitation, as somebody new.
            </p>
            <Group justify="flex-end" mt="lg">
              <Button variant="default" onClick={() => setLeaving(null)} data-autofocus>
                Stays
              </Button>
              <Button color="var(--over)" onClick={() => void end(leaving)}>
                Leaves
              </Button>
            </Group>
          </>
        )}
      </Modal>
    </Page>
  );
}

/** Links that nobody has followed yet. */
function OpenInvitations({ nameOf }: { nameOf: ReadonlyMap<string, string> }) {
  const { data: invitations = [] } = api.useInvitationsQuery();
  const [withdraw] = api.useWithdrawInvitationMutation();
  const drop = async ({ id }: Invitation) => {
    const { error } = await withdraw(id);
    if (error) sayError('The invitation was not withdrawn', error);
    else say('The link is good no more.');
  };
  if (!invitations.length) return null;
  return (
    <section className={classes.section} aria-label="Invitations">
      <h2>Invitations</h2>
      <table className="ledger">
        <LedgerHead columns={['As', 'Closed titles', 'By', 'Good until']} acts />
        <tbody>
          {invitations.map((invitation) => (
            <tr key={invitation.id}>
              <td className="name">{invitation.role}</td>
              <td className="small">{invitation.titleIds.flatMap((id) => nameOf.get(id) ?? []).join(', ')}</td>
              <td>{invitation.by.name}</td>
              <td className="quiet small">{moment(invitation.endsAt)}</td>
              <td>
                <Group justify="flex-end">
                  <Button size="compact-xs" variant="subtle" color="var(--over)" onClick={() => void drop(invitation)}>
                    Withdraw
                  </Button>
                </Group>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

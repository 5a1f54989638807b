import { Button, Select } from '@mantine/core';
import { ACCOUNT_KINDS, type AccountKind, type AccountQuery, ROUTES } from '@tonos/contract';
import { Link, useSearchParams } from 'react-router';
import { api } from '../../api/api.ts';
import { problemIn } from '../../api/reason-of.ts';
import { useMay, useMe } from '../../people/use-me.ts';
import { sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { saveText } from '../../ui/save-file.ts';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { moment } from '../../ui/time.ts';
import classes from './People.module.css';

const DAY_MS = 24 * 3600_000;
const SINCE = [
  { value: '1', label: 'the last day' },
  { value: '7', label: 'the last week' },
  { value: '30', label: 'the last month' },
];
const KIND_WORDS: Partial<Record<AccountKind, string>> = {
  people: 'people and sign-in',
  set: 'linked sets',
  order: 'running orders',
  trash: 'trash',
  storage: 'storage',
};

/** Who did what and why, in sentences: of a title, of a chain, of everything. What is chosen stands in the address. */
export function AccountPage() {
  const [chosen, setChosen] = useSearchParams();
  const me = useMe();
  const isOwner = useMay('owner');
  const { data: people = [] } = api.usePeopleQuery(undefined, { skip: !me?.shared });
  const { data: titles = [] } = api.useTitlesQuery();
  const { data: chains = [] } = api.useChainsQuery();
  const text = (key: string) => chosen.get(key) ?? undefined;
  const days = text('days');
  // to the day, so that the question stays the same while the page is looked at
  const since = days && new Date(Math.floor(Date.now() / DAY_MS - Number(days)) * DAY_MS).toISOString();
  const query: AccountQuery = {
    most: 500,
    ...Object.fromEntries(
      Object.entries({
        titleId: text('titleId'),
        chainId: text('chainId'),
        personId: text('personId'),
        kind: text('kind'),
        since,
      }).filter(([, value]) => value),
    ),
  };
  const { data: entries, error, refetch } = api.useAccountQuery(query, { refetchOnMountOrArgChange: true });
  const set = (key: string) => (value: string | null) =>
    setChosen(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) next.set(key, value);
        else next.delete(key);
        return next;
      },
      { replace: true },
    );
  const title = titles.find(({ id }) => id === query.titleId);
  const chain = chains.find(({ id }) => id === query.chainId);
  const of = title ?? chain;
  const saveCsv = async () => {
    const answer = await fetch(csv, { headers: { accept: 'text/csv' } });
    if (answer.ok) saveText('account.csv', await answer.text(), 'text/csv');
    else sayError('The account was not saved', new Error(await problemIn(answer)));
  };
  const csv = `${ROUTES.account.path}?${new URLSearchParams({ ...(query as unknown as Record<string, string>), most: '10000' })}`;
  return (
    <Page
      title={of ? `Account of ${of.name}` : 'Account'}
      about={
        of ? (
          <Link to={title ? `/titles/${of.id}` : `/chains/${of.id}`}>Back to {of.name}</Link>
        ) : (
          'Who did what, and why. Nobody can edit it.'
        )
      }
      acts={
        <Button variant="default" onClick={() => void saveCsv()}>
          As CSV
        </Button>
      }
    >
      <div className={classes.filters}>
        {me?.shared && (
          <Select
            size="xs"
            label="By"
            placeholder="everybody"
            clearable
            data={people.map(({ id, name }) => ({ value: id, label: name }))}
            value={text('personId') ?? null}
            onChange={set('personId')}
          />
        )}
        <Select
          size="xs"
          label="About"
          placeholder="everything"
          clearable
          data={ACCOUNT_KINDS.filter((kind) => kind !== 'people' || (isOwner && me?.shared)).map((kind) => ({
            value: kind,
            label: KIND_WORDS[kind] ?? `${kind}s`,
          }))}
          value={text('kind') ?? null}
          onChange={set('kind')}
        />
        <Select
          size="xs"
          label="Since"
          placeholder="the beginning"
          clearable
          data={SINCE}
          value={days ?? null}
          onChange={set('days')}
        />
      </div>
      {error && <Trouble error={error} retry={refetch} />}
      {entries?.length === 0 && <p className="empty">Nothing is told of that.</p>}
      {entries && entries.length > 0 && (
        <table className="ledger">
          <LedgerHead columns={['When', 'Who', 'What']} />
          <tbody>
            {entries.map(({ id, at, person, sentence }) => (
              <tr key={id}>
                <td className={`quiet small ${classes.when}`}>{moment(at)}</td>
                <td className={`name ${classes.who}`}>{person.name || (me?.shared ? 'the server' : 'you')}</td>
                <td className={classes.sentence}>{sentence}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Page>
  );
}

import { Button, FileButton, Group } from '@mantine/core';
import { type Outing, pathOf, ROUTES } from '@tonos/contract';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { placeText, stateText } from '../../outside/outing-texts.ts';
import { useTakeOut } from '../../outside/use-send-out.tsx';
import { useMay } from '../../people/use-me.ts';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { clock, moment } from '../../ui/time.ts';
import classes from './Outside.module.css';

/** Sound that is with other programs, and what came back of it. */
export function OutsidePage() {
  const { data, error, refetch } = api.useOutingsQuery();
  const mayChange = useMay('engineer');
  return (
    <Page
      title="Outside"
      about="Sound that went out to another program. What is written back under the same name is laid in where it came from, for that recording alone."
    >
      {error && <Trouble error={error} retry={refetch} />}
      {data && (
        <>
          {data.folder.trouble && <p className="advice">{data.folder.trouble}</p>}
          <dl className={classes.folders}>
            <dt>Goes to</dt>
            <dd>{data.folder.out}</dd>
            <dt>Comes back to</dt>
            <dd>{data.folder.back}</dd>
          </dl>
          {data.strangers.length > 0 && (
            <p className="advice">
              {data.strangers.length === 1 ? 'A file' : `${data.strangers.length} files`} came back under a name that
              nothing went out by: {data.strangers.slice(0, 5).join(', ')}. Give it the name of the file that went out.
            </p>
          )}
          {data.outings.length === 0 ? (
            <p className="empty">
              Nothing is outside. Choose recordings in a title, or open a step of a chain, and send them out.
            </p>
          ) : (
            <table className="ledger">
              <LedgerHead columns={['Recording', 'Place', 'Went out', 'State']} acts={mayChange} />
              <tbody>
                {data.outings.map((one) => (
                  <OutingRow key={one.id} outing={one} mayChange={mayChange} />
                ))}
              </tbody>
            </table>
          )}
        </>
      )}
    </Page>
  );
}

function OutingRow({ outing, mayChange }: { outing: Outing; mayChange: boolean }) {
  const { recordingId, recordingName, chainId, fileName, seconds, createdAt, backAt } = outing;
  const { text, isBad } = stateText(outing);
  return (
    <tr className={classes.row}>
      <td className="name">
        <Link to={`/recordings/${recordingId}`}>{recordingName}</Link>
        <div className={classes.file}>{fileName}</div>
      </td>
      <td className="small">
        {chainId ? (
          <Link to={`/chains/${chainId}?example=${recordingId}`}>{placeText(outing)}</Link>
        ) : (
          placeText(outing)
        )}
      </td>
      <td className="quiet small">
        {moment(createdAt)}
        {seconds !== null && <div>{clock(seconds, 1)}</div>}
      </td>
      <td className={`small ${classes.state}`}>
        <span className={isBad ? 'advice' : undefined}>{text}</span>
        {backAt && <div className="quiet">{moment(backAt)}</div>}
      </td>
      {mayChange && (
        <td>
          <Acts outing={outing} />
        </td>
      )}
    </tr>
  );
}

function Acts({ outing }: { outing: Outing }) {
  const { id, fileName, state, laidIn } = outing;
  const takeOut = useTakeOut();
  const [handIn, handing] = api.useHandInOutingMutation();
  const [forget] = api.useForgetOutingMutation();
  const give = async (file: File | null) => {
    if (!file) return;
    const { error } = await handIn({ id, file });
    if (error) sayError(`${file.name} was not handed in`, error);
    else say(`${file.name} is looked at, and laid in where it can be.`);
  };
  const letGo = async () => {
    const { error } = await forget(id);
    if (error) sayError(`${fileName} is waited for still`, error);
    else say(`${fileName} is waited for no more.${laidIn ? ' What was laid in stays.' : ''}`);
  };
  const isThere = state !== 'making' && state !== 'failed';
  return (
    <Group gap={8} justify="flex-end" wrap="nowrap">
      {laidIn && (
        <Button size="compact-xs" variant="default" onClick={() => void takeOut(outing)}>
          Take out
        </Button>
      )}
      {isThere && (
        <Button
          size="compact-xs"
          variant="subtle"
          component="a"
          href={pathOf(ROUTES.outingFile, { id })}
          aria-label={`Download ${fileName}`}
          download
        >
          Download
        </Button>
      )}
      {isThere && (
        <FileButton accept=".wav,audio/*" onChange={(file) => void give(file)}>
          {(button) => (
            <Button {...button} size="compact-xs" variant="subtle" loading={handing.isLoading}>
              Hand in
            </Button>
          )}
        </FileButton>
      )}
      <Button size="compact-xs" variant="subtle" aria-label={`Forget ${fileName}`} onClick={() => void letGo()}>
        Forget
      </Button>
    </Group>
  );
}

import { Button, Tooltip, VisuallyHidden } from '@mantine/core';
import { type Integrity, LITTLE_BYTES } from '@tonos/contract';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { sizeText } from '../../ui/size-text.ts';
import { Trouble } from '../../ui/Trouble.tsx';
import { StorageChart } from './StorageChart.tsx';

const isWhole = ({ faults, database }: Integrity) => !faults.length && !database.length;

function faultsText({ faults, database }: Integrity): string {
  const files = faults.map(({ fault, usedBy }) =>
    fault === 'missing'
      ? `${usedBy.join(', ')} is gone: add it again.`
      : `${usedBy.join(', ')} was altered on the disk: add it again.`,
  );
  const tables = database.length
    ? [`The database is damaged (${database[0]}): end Tonos and bring back a copy of tonos.sqlite.`]
    : [];
  return [...files, ...tables].join(' ');
}

/** What lies in the data folder, and whether it is what it was. */
export function StoragePage() {
  const { data, error, refetch } = api.useStorageQuery(undefined, { refetchOnMountOrArgChange: true });
  const [clear, clearing] = api.useClearUnusedMutation();
  const [clearRenders] = api.useClearRendersMutation();
  const [check, checking] = api.useCheckStorageMutation();
  const found = checking.data;
  const tidy = async () => {
    const result = await clear();
    if (result.error) sayError('Nothing was cleared', result.error);
    else say('What nobody needs is cleared.');
  };
  const clearTitle = async (id: string, name: string) => {
    const { error: refused } = await clearRenders(id);
    if (refused) sayError('Nothing was cleared', refused);
    else say(`The renders of ${name} are cleared. Its boards make them again when they are wanted.`);
  };
  return (
    <Page
      title="Storage"
      about={data && `${sizeText(data.freeBytes)} free on the disk of the data folder`}
      acts={
        <>
          <Button variant="default" loading={checking.isLoading} onClick={() => void check()}>
            Check every file
          </Button>
          <Button disabled={!data?.unused.files} loading={clearing.isLoading} onClick={() => void tidy()}>
            {data?.unused.files ? `Clear ${sizeText(data.unused.bytes)} that nobody needs` : 'Nothing to clear'}
          </Button>
        </>
      }
    >
      {error && <Trouble error={error} retry={refetch} />}
      {data && data.freeBytes < LITTLE_BYTES && (
        <p className="advice">Less than {sizeText(LITTLE_BYTES)} are free: long runs may be refused.</p>
      )}
      {found && (
        <p className={isWhole(found) ? 'verdict-within' : 'verdict-over'} role="status">
          {isWhole(found)
            ? `All ${found.files} files are what they were, and the database is whole.`
            : faultsText(found)}
        </p>
      )}
      {data && <StorageChart titles={data.titles} />}
      {data && (
        <table className="ledger">
          <thead>
            <tr>
              <th>Title</th>
              <th className="number">Recordings</th>
              <th className="number">Sources</th>
              <th className="number">Deliveries</th>
              <th className="number">Delivered</th>
              <th>
                <VisuallyHidden>Acts</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.titles.map(({ id, name, recordings, sourceBytes, deliveries, deliveredBytes, clearableBytes }) => (
              <tr key={id}>
                <td className="name">
                  <Link className="plain" to={`/titles/${id}`}>
                    {name}
                  </Link>
                </td>
                <td className="number">{recordings}</td>
                <td className="number">{sizeText(sourceBytes)}</td>
                <td className="number">{deliveries}</td>
                <td className="number">{sizeText(deliveredBytes)}</td>
                <td align="right">
                  {clearableBytes > 0 && (
                    <Tooltip label="What was rendered can be made again from its recipe, the same to the byte. Figures, verdicts and reasons stay.">
                      <Button size="compact-xs" variant="default" onClick={() => void clearTitle(id, name)}>
                        Clear {sizeText(clearableBytes)} of renders
                      </Button>
                    </Tooltip>
                  )}
                </td>
              </tr>
            ))}
            <tr>
              <td className="quiet">Pictures and copies, made again where they are missing</td>
              <td />
              <td className="number">{sizeText(data.derivedBytes)}</td>
              <td />
              <td />
              <td />
            </tr>
          </tbody>
        </table>
      )}
    </Page>
  );
}

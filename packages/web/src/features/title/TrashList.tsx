import { Button } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { moment } from '../../ui/time.ts';

/** What lies in the trash of a title; each can come back. */
export function TrashList({ titleId }: { titleId: string }) {
  const { data: trash = [] } = api.useTrashQuery(titleId);
  const [opened, { toggle }] = useDisclosure(false);
  const [change] = api.useChangeRecordingsMutation();
  if (!trash.length) return null;
  const restore = async (ids: string[]) => {
    const { error } = await change({ ids, trashed: false });
    if (error) sayError('Nothing was restored', error);
  };
  return (
    <section className="small">
      <Button size="compact-sm" variant="subtle" onClick={toggle} aria-expanded={opened}>
        Trash: {trash.length}
      </Button>
      {opened && (
        <table className="ledger">
          <tbody>
            {trash.map(({ id, name, trashedAt }) => (
              <tr key={id}>
                <td>{name}</td>
                <td className="quiet">since {moment(trashedAt!)}</td>
                <td className="number">
                  <Button size="compact-xs" variant="default" onClick={() => void restore([id])}>
                    Restore
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

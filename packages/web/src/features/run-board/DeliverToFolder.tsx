import { Button, Group, Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import type { Run } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { FolderWalk } from '../../ui/FolderWalk.tsx';
import { say, sayError } from '../../ui/notify.ts';
import { sizeText } from '../../ui/size-text.ts';

/** The package written into a folder on the server, where folders are configured. */
export function DeliverToFolder({ run, disabled }: { run: Run; disabled: boolean }) {
  const [opened, modal] = useDisclosure(false);
  const [place, setPlace] = useState({ root: 0, path: '' });
  const { data, error } = api.useFolderQuery(place, { refetchOnMountOrArgChange: true });
  const [deliver, { isLoading }] = api.useDeliverToFolderMutation();
  if (!data?.roots.length && place.path === '') return null;
  const write = async () => {
    const { data: written, error: refused } = await deliver({ runId: run.id, ...place });
    if (!written) return sayError('Nothing was delivered', refused);
    say(`${written.name}, ${sizeText(written.sizeBytes)}, lies in ${place.path || data?.roots[place.root]}.`);
    modal.close();
  };
  return (
    <>
      <Button variant="default" disabled={disabled} onClick={modal.open}>
        Into a server folder
      </Button>
      <Modal opened={opened} onClose={modal.close} title="Into a folder on the server">
        <p className="quiet small">
          The package is written whole, as a ZIP that holds a BagIt bag. Nothing that lies there is written over.
        </p>
        <FolderWalk {...place} data={data} error={error} onGo={(root, path) => setPlace({ root, path })} />
        <Group justify="flex-end">
          <Button loading={isLoading} disabled={error !== undefined} onClick={() => void write()}>
            Write it here
          </Button>
        </Group>
      </Modal>
    </>
  );
}

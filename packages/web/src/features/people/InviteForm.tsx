import { Button, Group, Select, Stack } from '@mantine/core';
import { ROLES, type Role, type Title } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { CopyOnce } from '../../people/CopyOnce.tsx';
import { roleChoices } from '../../people/role-words.ts';
import { sayError } from '../../ui/notify.ts';
import { ClosedTitles } from './ClosedTitles.tsx';

/** Makes a link by which somebody joins. It is told once, here. */
export function InviteForm({ titles, onDone }: { titles: readonly Title[]; onDone(): void }) {
  const [role, setRole] = useState<Role>('engineer');
  const [titleIds, setTitleIds] = useState<string[]>([]);
  const [url, setUrl] = useState<string>();
  const [invite, { isLoading }] = api.useInviteMutation();
  const make = async () => {
    const { data, error } = await invite({ role, titleIds });
    if (data) setUrl(data.url);
    else sayError('No invitation was made', error);
  };
  if (url)
    return (
      <Stack>
        <CopyOnce
          label="Link"
          description="Give it to them yourself. It is good once, for seven days, and is not shown again."
          value={url}
        />
        <Group justify="flex-end">
          <Button onClick={onDone}>Done</Button>
        </Group>
      </Stack>
    );
  return (
    <Stack>
      <Select
        label="They join as"
        data={roleChoices(ROLES)}
        value={role}
        allowDeselect={false}
        onChange={(value) => setRole((value ?? role) as Role)}
      />
      {role !== 'owner' && <ClosedTitles titles={titles} value={titleIds} onChange={setTitleIds} />}
      <Group justify="flex-end">
        <Button variant="default" onClick={onDone}>
          Cancel
        </Button>
        <Button loading={isLoading} onClick={() => void make()}>
          Make a link
        </Button>
      </Group>
    </Stack>
  );
}

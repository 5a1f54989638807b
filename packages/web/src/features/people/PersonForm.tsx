import { Button, Group, Select, Stack } from '@mantine/core';
import { type Person, ROLES, type Role, type Title } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { roleChoices } from '../../people/role-words.ts';
import { say, sayError } from '../../ui/notify.ts';
import { ClosedTitles } from './ClosedTitles.tsx';

interface PersonFormProps {
  person: Person;
  titles: readonly Title[];
  onDone(): void;
}

/** What somebody may, and which closed titles they know of. */
export function PersonForm({ person, titles, onDone }: PersonFormProps) {
  const { id, name } = person;
  const [role, setRole] = useState<Role>(person.role);
  const [known, setKnown] = useState(person.titles ?? []);
  const [change, { isLoading }] = api.useChangePersonMutation();
  const save = async () => {
    const { error } = await change({ id, ...(role !== person.role && { role }), titles: known });
    if (error) return sayError(`${name} was not changed`, error);
    say(role === person.role ? `${name} is changed.` : `${name} is ${role} from now on.`);
    onDone();
  };
  return (
    <Stack>
      <Select
        label="Role"
        data={roleChoices(ROLES)}
        value={role}
        allowDeselect={false}
        onChange={(value) => setRole((value ?? role) as Role)}
        data-autofocus
      />
      {role !== 'owner' && <ClosedTitles titles={titles} value={known} onChange={setKnown} />}
      <Group justify="flex-end">
        <Button variant="default" onClick={onDone}>
          Cancel
        </Button>
        <Button loading={isLoading} onClick={() => void save()}>
          Save
        </Button>
      </Group>
    </Stack>
  );
}

import { ActionIcon, Button, Group, Menu, Modal, Stack, TagsInput, Textarea, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDisclosure } from '@mantine/hooks';
import { IconDots } from '@tabler/icons-react';
import type { Chain } from '@tonos/contract';
import { Link, useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { say, sayError } from '../../ui/notify.ts';
import { saveJson } from '../../ui/save-file.ts';
import { useThrowAway } from '../../ui/use-throw-away.ts';
import type { EditedStep } from './chain-slice.ts';
import { KeepPart } from './KeepPart.tsx';

interface ChainMenuProps {
  chain: Chain;
  steps: readonly EditedStep[];
  /** Puts steps in place that suit the example; left out where it is not measured yet. */
  onPropose?: () => void;
  /** Whether it is heard and measured as it was, whatever is changed. */
  isHeld: boolean;
  onHold(): void;
}

/** What is done to a chain as a whole: describe it, branch it, export it, archive or throw it away. */
export function ChainMenu({ chain, steps, onPropose, isHeld, onHold }: ChainMenuProps) {
  const [describing, form] = useDisclosure(false);
  const [parting, part] = useDisclosure(false);
  const [change] = api.useChangeChainMutation();
  const throwAway = useThrowAway();
  const [add] = api.useAddChainMutation();
  const navigate = useNavigate();
  const { id, name, tags, notes, archived, starred } = chain;
  const apply = async (part: Parameters<typeof change>[0] extends infer T ? Omit<T & object, 'id'> : never) => {
    const { error } = await change({ id, ...part });
    if (error) sayError('The chain was not changed', error);
    return !error;
  };
  const branch = async () => {
    const { data, error } = await add({ name: `${name}, branch`, tags, notes, steps: [...steps] });
    if (!data) return sayError('No branch was made', error);
    say(`Branched from revision ${chain.revision}.`);
    void navigate(`/chains/${data.id}`);
  };
  const drop = async () => {
    if (await throwAway({ kind: 'chain', id }, name)) void navigate('/chains');
  };
  return (
    <>
      <Menu position="bottom-end" width={240}>
        <Menu.Target>
          <ActionIcon size="lg" variant="default" aria-label="More for this chain">
            <IconDots size={18} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={form.open}>Name, tags and notes</Menu.Item>
          <Menu.Item onClick={() => void apply({ starred: !starred })}>
            {starred ? 'Take the star off' : 'Star'}
          </Menu.Item>
          <Menu.Item onClick={onPropose} disabled={!onPropose}>
            Propose steps for the example
          </Menu.Item>
          <Menu.Item onClick={onHold}>{isHeld ? 'Let it go' : 'Hold: change without hearing'}</Menu.Item>
          <Menu.Item onClick={() => void branch()}>Keep as a new chain</Menu.Item>
          <Menu.Item onClick={part.open} disabled={!steps.length}>
            Keep a part of it
          </Menu.Item>
          <Menu.Item onClick={() => saveJson(name, { format: 'tonos.chain/1', name, tags, notes, steps })}>
            Export as a file
          </Menu.Item>
          <Menu.Item component={Link} to={`/account?chainId=${id}`}>
            Who did what
          </Menu.Item>
          <Menu.Divider />
          <Menu.Item onClick={() => void apply({ archived: !archived })}>
            {archived ? 'Bring back from the archive' : 'Archive'}
          </Menu.Item>
          <Menu.Item color="var(--over)" onClick={() => void drop()}>
            Move to the trash
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <Modal opened={parting} onClose={part.close} title="Keep a part of it" size="lg">
        <KeepPart chainName={name} steps={steps} onDone={part.close} />
      </Modal>
      <Modal opened={describing} onClose={form.close} title="Name, tags and notes">
        <DescribeForm
          chain={chain}
          onDone={async (part) => {
            if (await apply(part)) form.close();
          }}
          onCancel={form.close}
        />
      </Modal>
    </>
  );
}

interface DescribeFormProps {
  chain: Chain;
  onDone(part: { name: string; tags: string[]; notes: string }): Promise<void>;
  onCancel(): void;
}

function DescribeForm({ chain, onDone, onCancel }: DescribeFormProps) {
  const form = useForm({ initialValues: { name: chain.name, tags: [...chain.tags], notes: chain.notes } });
  return (
    <form onSubmit={form.onSubmit((values) => void onDone(values))}>
      <Stack>
        <TextInput label="Name" required maxLength={200} data-autofocus {...form.getInputProps('name')} />
        <TagsInput label="Tags" maxTags={30} {...form.getInputProps('tags')} />
        <Textarea label="Notes" autosize minRows={2} maxLength={10_000} {...form.getInputProps('notes')} />
        <Group justify="flex-end">
          <Button variant="default" onClick={onCancel}>
            Cancel
          </Button>
          <Button type="submit" disabled={!form.values.name.trim()}>
            Save
          </Button>
        </Group>
      </Stack>
    </form>
  );
}

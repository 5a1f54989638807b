import { ActionIcon, Button, Group, Menu, Modal, Select, Stack, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDisclosure } from '@mantine/hooks';
import { IconDots } from '@tabler/icons-react';
import type { RunningOrder } from '@tonos/contract';
import type { OrderFile } from '@tonos/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { say, sayError } from '../../ui/notify.ts';
import { saveJson } from '../../ui/save-file.ts';
import { useThrowAway } from '../../ui/use-throw-away.ts';

interface OrderMenuProps {
  running: RunningOrder;
  order: OrderFile;
  onRename(name: string): void;
}

/** What is done to a running order as a whole: rename it, copy it, give it out, throw it away. */
export function OrderMenu({ running, order, onRename }: OrderMenuProps) {
  const [naming, nameForm] = useDisclosure(false);
  const [copying, copyForm] = useDisclosure(false);
  const form = useForm({ initialValues: { name: order.name } });
  const [titleId, setTitle] = useState<string | null>(running.titleId);
  const { data: titles = [] } = api.useTitlesQuery();
  const [add] = api.useAddOrderMutation();
  const throwAway = useThrowAway();
  const navigate = useNavigate();
  const copy = async () => {
    const { data, error } = await add({ titleId: titleId!, order: { ...order, name: `${order.name}, copy` } });
    if (!data) return sayError('No copy was made', error);
    say(`Copied as ${data.name}.`);
    copyForm.close();
    void navigate(`/orders/${data.id}`);
  };
  const drop = async () => {
    if (await throwAway({ kind: 'order', id: running.id }, order.name)) void navigate(`/titles/${running.titleId}`);
  };
  return (
    <>
      <Menu position="bottom-end" width={240}>
        <Menu.Target>
          <ActionIcon size="lg" variant="default" aria-label="More for this running order">
            <IconDots size={18} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={nameForm.open}>Rename</Menu.Item>
          <Menu.Item onClick={copyForm.open}>Copy to a title</Menu.Item>
          <Menu.Item onClick={() => saveJson(order.name, order)}>Export as a file</Menu.Item>
          <Menu.Divider />
          <Menu.Item color="var(--over)" onClick={() => void drop()}>
            Move to the trash
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <Modal opened={naming} onClose={nameForm.close} title="Rename">
        <form
          onSubmit={form.onSubmit(({ name }) => {
            onRename(name.trim());
            nameForm.close();
          })}
        >
          <Stack>
            <TextInput label="Name" required maxLength={200} data-autofocus {...form.getInputProps('name')} />
            <Group justify="flex-end">
              <Button type="submit" disabled={!form.values.name.trim()}>
                Rename
              </Button>
            </Group>
          </Stack>
        </form>
      </Modal>
      <Modal opened={copying} onClose={copyForm.close} title="Copy to a title">
        <Stack>
          <Select
            label="Title"
            description="Its recordings stay where they are; places are filled from the title that it is in."
            allowDeselect={false}
            data={titles.map((title) => ({ value: title.id, label: title.name }))}
            value={titleId}
            onChange={setTitle}
          />
          <Group justify="flex-end">
            <Button onClick={() => void copy()} disabled={!titleId}>
              Copy
            </Button>
          </Group>
        </Stack>
      </Modal>
    </>
  );
}

import { Button, Menu } from '@mantine/core';
import type { Table } from '@tanstack/react-table';
import type { Recording } from '@tonos/contract';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { inOrder } from './sort-recordings.ts';

interface OrderMenuProps {
  titleId: string;
  recordings: readonly Recording[];
  /** As they are shown now. */
  table: Table<Recording>;
}

/** Sets the order that chapters or episodes have in the title. */
export function OrderMenu({ titleId, recordings, table }: OrderMenuProps) {
  const [order] = api.useOrderRecordingsMutation();
  const keep = async (wanted: readonly Recording[]) => {
    const { error } = await order({ titleId, recordingIds: wanted.map(({ id }) => id) });
    if (error) sayError('The order was not changed', error);
  };
  const { rows } = table.getRowModel();
  const numbered = recordings.some(({ tags }) => tags.track !== undefined);
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button size="compact-sm" variant="subtle">
          Set order
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => keep(inOrder(recordings, ({ name }) => name))}>
          By the names and their numbers
        </Menu.Item>
        <Menu.Item
          disabled={!numbered}
          onClick={() => keep(inOrder(recordings, ({ tags }) => tags.track ?? Number.POSITIVE_INFINITY))}
        >
          By the files{'\u2019'} track numbers
        </Menu.Item>
        <Menu.Item
          disabled={rows.length !== recordings.length}
          onClick={() => keep(rows.map(({ original }) => original))}
        >
          As the table is sorted now
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

import { Button, Menu } from '@mantine/core';
import type { Run } from '@tonos/contract';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { moment } from '../../ui/time.ts';

/** Another run of the same title to be set beside this one. */
export function CompareMenu({ run }: { run: Run }) {
  const { data: runs = [] } = api.useRunsQuery();
  const others = runs.filter(({ id, titleId }) => titleId === run.titleId && id !== run.id);
  if (!others.length) return null;
  return (
    <Menu position="bottom-end" width={340}>
      <Menu.Target>
        <Button variant="default">Compare</Button>
      </Menu.Target>
      <Menu.Dropdown mah={360} style={{ overflowY: 'auto' }}>
        {others.map((other) => (
          <Menu.Item key={other.id} component={Link} to={`/runs/${run.id}/beside/${other.id}`}>
            {moment(other.createdAt)}: {other.chainName}, revision {other.revision}, {other.targetName}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

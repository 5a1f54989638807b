import { Button, FileButton, Menu } from '@mantine/core';
import { type OrderFile, readOrder, shippedPatterns } from '@tonos/core';
import { Link, useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { moment } from '../../ui/time.ts';
import classes from './NoteList.module.css';

const EMPTY: OrderFile = readOrder({
  format: 'tonos.order/1',
  name: 'New running order',
  groups: [
    { id: 'voices', name: 'Voices' },
    { id: 'music', name: 'Music' },
  ],
  parts: [],
});

/** The running orders of a title, and how one is begun: empty, by a pattern, from a file. */
export function OrderList({ titleId }: { titleId: string }) {
  const { data: orders = [] } = api.useOrdersQuery(titleId);
  const [add] = api.useAddOrderMutation();
  const navigate = useNavigate();
  const begin = async (order: OrderFile) => {
    const { data, error } = await add({ titleId, order });
    if (data) void navigate(`/orders/${data.id}`);
    else sayError('No running order was made', error);
  };
  const bringIn = async (file: File | null) => {
    if (!file) return;
    try {
      await begin(readOrder(JSON.parse(await file.text())));
    } catch (error) {
      sayError(`${file.name} was not brought in`, error);
    }
  };
  return (
    <section aria-label="Running orders" className={classes.notes}>
      <div className={classes.head}>
        <h2>Running orders</h2>
        <span className="quiet small">
          {orders.length ? '' : 'How a programme is put together from recordings: once, or as a pattern for many.'}
        </span>
        <Menu position="bottom-start" width={240}>
          <Menu.Target>
            <Button size="compact-xs" variant="default">
              New running order
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => void begin(EMPTY)}>Empty</Menu.Item>
            {shippedPatterns().map((pattern) => (
              <Menu.Item key={pattern.name} onClick={() => void begin(pattern)}>
                {pattern.name}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
        <FileButton accept="application/json,.json" onChange={(file) => void bringIn(file)}>
          {(props) => (
            <Button {...props} size="compact-xs" variant="default">
              From a file
            </Button>
          )}
        </FileButton>
      </div>
      {orders.length > 0 && (
        <table className="ledger">
          <thead>
            <tr>
              <th>Name</th>
              <th className="number">Parts</th>
              <th>Filled per episode</th>
              <th className="number">Revision</th>
              <th>Changed</th>
            </tr>
          </thead>
          <tbody>
            {orders.map(({ id, name, partCount, places, revision, hasDraft, changedAt }) => (
              <tr key={id}>
                <td className="name">
                  <Link className="plain" to={`/orders/${id}`}>
                    {name}
                  </Link>
                </td>
                <td className="number">{partCount}</td>
                <td className="quiet">{places.join(', ')}</td>
                <td className="number">{revision}</td>
                <td className="quiet">
                  {moment(changedAt)}
                  {hasDraft && ', draft'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

import { Button, Group, Modal, VisuallyHidden } from '@mantine/core';
import type { TrashChoice, TrashEntry } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { For } from '../../people/For.tsx';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { sizeText } from '../../ui/size-text.ts';
import { Trouble } from '../../ui/Trouble.tsx';
import { moment } from '../../ui/time.ts';
import classes from './TrashPage.module.css';
import { containsText, goesText } from './trash-text.ts';

/** What was thrown away: each can come back, or go for good. */
export function TrashPage() {
  const { data: trash, error, refetch } = api.useTrashQuery();
  const [restore] = api.useRestoreTrashedMutation();
  const [empty, emptying] = api.useEmptyTrashMutation();
  const [asked, setAsked] = useState<{ entries: TrashEntry[]; choice: TrashChoice } | null>(null);
  const bringBack = async ({ kind, id, name }: TrashEntry) => {
    const { error: refused } = await restore({ kind, id });
    if (refused) sayError(`${name} was not restored`, refused);
    else say(`${name} is back.`);
  };
  const removeAsked = async () => {
    const { data, error: refused } = await empty(asked!.choice);
    setAsked(null);
    if (!data) return sayError('Nothing was removed', refused);
    const [first] = data.kept;
    const stays = first
      ? ` ${first.name}${data.kept.length > 1 ? ` and ${data.kept.length - 1} more` : ''} stays: ${first.why}.`
      : '';
    say(`${data.removed.length} removed for good, ${sizeText(data.freedBytes)} freed.${stays}`);
  };
  const removable = trash?.filter(({ neededBy }) => neededBy === null) ?? [];
  return (
    <Page
      title="Trash"
      about="What was thrown away. It comes back whole, and goes for good only when you say so."
      acts={
        <For least="owner">
          <Button
            variant="default"
            disabled={!removable.length}
            onClick={() => setAsked({ entries: removable, choice: {} })}
          >
            Empty the trash
          </Button>
        </For>
      }
    >
      {error && <Trouble error={error} retry={refetch} />}
      {trash?.length === 0 && <p className="empty">Nothing lies here.</p>}
      {trash && trash.length > 0 && (
        <table className="ledger">
          <thead>
            <tr>
              <th>What</th>
              <th>Kind</th>
              <th>With it</th>
              <th className="number">Room</th>
              <th>Since</th>
              <th>
                <VisuallyHidden>Acts</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {trash.map((entry) => {
              const { kind, id, name, titleName, trashedAt, bytes, neededBy } = entry;
              return (
                <tr key={`${kind} ${id}`}>
                  <td className="name">
                    {name}
                    {titleName && <span className={`quiet small ${classes.of}`}> of {titleName}</span>}
                  </td>
                  <td className="quiet">{kind}</td>
                  <td className="small">{neededBy ? `stays: ${neededBy}` : containsText(entry)}</td>
                  <td className="number">{bytes > 0 ? sizeText(bytes) : ''}</td>
                  <td className="quiet small">{moment(trashedAt)}</td>
                  <td>
                    <Group gap={8} justify="flex-end" wrap="nowrap">
                      <For least="engineer">
                        <Button size="compact-xs" variant="default" onClick={() => void bringBack(entry)}>
                          Restore
                        </Button>
                      </For>
                      <For least="owner">
                        <Button
                          size="compact-xs"
                          variant="subtle"
                          color="var(--over)"
                          disabled={neededBy !== null}
                          onClick={() => setAsked({ entries: [entry], choice: { kind, id } })}
                        >
                          Remove for good
                        </Button>
                      </For>
                    </Group>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <Modal opened={asked !== null} onClose={() => setAsked(null)} title="Remove for good">
        {asked && (
          <>
            <p>{goesText(asked.entries)}</p>
            <Group justify="flex-end" mt="lg">
              <Button variant="default" onClick={() => setAsked(null)} data-autofocus>
                Keep
              </Button>
              <Button color="var(--over)" loading={emptying.isLoading} onClick={() => void removeAsked()}>
                Remove
              </Button>
            </Group>
          </>
        )}
      </Modal>
    </Page>
  );
}

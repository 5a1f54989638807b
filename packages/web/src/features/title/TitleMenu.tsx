import { ActionIcon, Menu, Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconDots } from '@tabler/icons-react';
import type { Title } from '@tonos/contract';
import { Link, useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { useMay, useMe } from '../../people/use-me.ts';
import { lazily } from '../../ui/lazily.tsx';
import { say, sayError } from '../../ui/notify.ts';
import { useThrowAway } from '../../ui/use-throw-away.ts';

const DetailsForm = lazily(async () => (await import('./DetailsForm.tsx')).DetailsForm);

/** What is done to a title as a whole: say more of it, archive it, throw it away. */
export function TitleMenu({ title, onFolder }: { title: Title; onFolder?: () => void }) {
  const [describing, form] = useDisclosure(false);
  const [change] = api.useChangeTitleMutation();
  const throwAway = useThrowAway();
  const navigate = useNavigate();
  const isShared = useMe()?.shared ?? false;
  const mayLead = useMay('lead');
  const { id, name, archived, closed, approvedOnly } = title;
  const apply = async (part: { closed: boolean } | { approvedOnly: boolean }, done: string) => {
    const { error } = await change({ id, ...part });
    if (error) sayError('The title was not changed', error);
    else say(done);
  };
  const archive = async () => {
    const { error } = await change({ id, archived: !archived });
    if (error) sayError('The title was not changed', error);
    else
      say(
        archived ? `${name} is among the titles again.` : `${name} is archived: it lies under Titles, Archived ones.`,
      );
  };
  const drop = async () => {
    if (await throwAway({ kind: 'title', id }, name)) void navigate('/titles');
  };
  return (
    <>
      <Menu position="bottom-end" width={240}>
        <Menu.Target>
          <ActionIcon size="lg" variant="default" aria-label="More for this title">
            <IconDots size={18} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={form.open}>Name and details</Menu.Item>
          {onFolder && <Menu.Item onClick={onFolder}>Bring in from a server folder</Menu.Item>}
          <Menu.Item component={Link} to="/outside">
            What is outside
          </Menu.Item>
          <Menu.Item component={Link} to={`/account?titleId=${id}`}>
            Who did what
          </Menu.Item>
          {isShared && mayLead && (
            <>
              <Menu.Divider />
              <Menu.Item
                onClick={() =>
                  void apply(
                    { closed: !closed },
                    closed
                      ? `${name} is there for everybody.`
                      : `Only owners, you and who is named on the page People know of ${name}.`,
                  )
                }
              >
                {closed ? 'Open to everybody' : 'Close to all but some'}
              </Menu.Item>
              <Menu.Item
                onClick={() =>
                  void apply(
                    { approvedOnly: !approvedOnly },
                    approvedOnly ? 'Runs take any revision.' : 'Runs take approved revisions, or a lead starts them.',
                  )
                }
              >
                {approvedOnly ? 'Let runs take any revision' : 'Ask for approved revisions'}
              </Menu.Item>
            </>
          )}
          <Menu.Divider />
          <Menu.Item onClick={() => void archive()}>{archived ? 'Bring back from the archive' : 'Archive'}</Menu.Item>
          <Menu.Item color="var(--over)" onClick={() => void drop()}>
            Move to the trash
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <Modal opened={describing} onClose={form.close} title="Name and details" size="lg">
        <DetailsForm title={title} onDone={form.close} />
      </Modal>
    </>
  );
}

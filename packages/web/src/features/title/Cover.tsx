import { Menu, UnstyledButton } from '@mantine/core';
import { useFileDialog } from '@mantine/hooks';
import { pathOf, ROUTES, type Title } from '@tonos/contract';
import { api } from '../../api/api.ts';
import { say, sayError } from '../../ui/notify.ts';
import classes from './Cover.module.css';

const LARGEST_BYTES = 2_000_000;

/** The picture that a title's deliveries carry: shown small, chosen from a file, taken away. */
export function Cover({ title: { id, name, cover } }: { title: Title }) {
  const [set] = api.useSetCoverMutation();
  const [remove] = api.useRemoveCoverMutation();
  const take = async (file: File | undefined) => {
    if (!file) return;
    if (file.size > LARGEST_BYTES)
      return sayError('The cover was not taken', new Error(`${file.name} is larger than 2 MB. Export it smaller.`));
    const { error } = await set({ id, file });
    if (error) sayError('The cover was not taken', error);
    else say('Deliveries rendered from now on carry this cover.');
  };
  const takeAway = async () => {
    const { error } = await remove(id);
    if (error) sayError('The cover was not taken away', error);
  };
  const dialog = useFileDialog({
    accept: 'image/jpeg,image/png',
    multiple: false,
    resetOnOpen: true,
    onChange: (files) => void take(files?.[0]),
  });
  if (!cover)
    return (
      <UnstyledButton className={classes.none} onClick={dialog.open}>
        Add cover
      </UnstyledButton>
    );
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        <UnstyledButton className={classes.cover} aria-label={`Cover of ${name}`}>
          <img src={`${pathOf(ROUTES.cover, { id })}?of=${cover.sha256}`} alt="" />
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>
          {cover.width} × {cover.height}, in every delivery but WAV
        </Menu.Label>
        <Menu.Item onClick={dialog.open}>Another picture</Menu.Item>
        <Menu.Item onClick={() => void takeAway()}>Take it away</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

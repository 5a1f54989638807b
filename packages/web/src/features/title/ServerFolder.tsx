import { Button, Checkbox, Modal, Switch } from '@mantine/core';
import type { Title } from '@tonos/contract';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { FolderWalk } from '../../ui/FolderWalk.tsx';
import { say, sayError } from '../../ui/notify.ts';
import classes from './ServerFolder.module.css';

interface ServerFolderProps {
  titleId: string;
  /** The folder that is watched. */
  inbox: Title['inbox'];
  opened: boolean;
  onClose(): void;
}

/** Files of a folder on the server, chosen to come in. */
export function ServerFolder({ titleId, inbox, opened, onClose }: ServerFolderProps) {
  const [root, setRoot] = useState(0);
  const [path, setPath] = useState('');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const { data, error } = api.useFolderQuery({ root, path }, { skip: !opened, refetchOnMountOrArgChange: true });
  const [change] = api.useChangeTitleMutation();
  const [bring, { isLoading }] = api.useBringFromFolderMutation();
  const files = data?.files ?? [];
  const all = files.length > 0 && files.every(({ name }) => chosen.has(name));
  const toggle = (name: string) =>
    setChosen((now) => (now.has(name) ? new Set([...now].filter((one) => one !== name)) : new Set([...now, name])));
  const bringIn = async () => {
    const names = files.map(({ name }) => name).filter((name) => chosen.has(name));
    const { error: refused, data: added } = await bring({ titleId, root, path, files: names });
    if (refused) return sayError('The files did not come in', refused);
    say(`${added.length} ${added.length === 1 ? 'file has' : 'files have'} come in.`);
    onClose();
  };
  const watched = inbox !== null && inbox.root === root && inbox.path === path;
  const watch = async (next: Title['inbox']) => {
    const { error: refused } = await change({ id: titleId, inbox: next });
    if (refused) sayError('The folder is not watched', refused);
  };
  return (
    <Modal opened={opened} onClose={onClose} title="From a folder on the server" size="lg">
      <FolderWalk
        root={root}
        path={path}
        data={data}
        error={error}
        onGo={(nextRoot, nextPath) => {
          setRoot(nextRoot);
          setPath(nextPath);
          setChosen(new Set());
        }}
      >
        {files.length > 1 && (
          <li>
            <Checkbox
              size="xs"
              label={`All ${files.length} files`}
              checked={all}
              indeterminate={!all && chosen.size > 0}
              onChange={() => setChosen(new Set(all ? [] : files.map(({ name }) => name)))}
            />
          </li>
        )}
        {files.map(({ name, sizeBytes }) => (
          <li key={name}>
            <Checkbox size="xs" label={name} checked={chosen.has(name)} onChange={() => toggle(name)} />
            <span className="figure quiet">{(sizeBytes / 1e6).toFixed(1)} MB</span>
          </li>
        ))}
      </FolderWalk>
      {data && !data.folders.length && !files.length && <p className="quiet">This folder is empty.</p>}
      <div className={classes.watch}>
        <Switch
          size="xs"
          label="Watch this folder: what arrives complete is brought in"
          checked={watched}
          onChange={(event) => void watch(event.currentTarget.checked ? { root, path, run: false } : null)}
        />
        {watched && (
          <Switch
            size="xs"
            label="and run with the title’s chain and target"
            checked={inbox!.run}
            onChange={(event) => void watch({ ...inbox!, run: event.currentTarget.checked })}
          />
        )}
        {watched && (
          <Switch
            size="xs"
            label="Each folder in it is a session: its recordings come in together and are linked"
            checked={inbox!.sets ?? false}
            onChange={(event) => void watch({ ...inbox!, sets: event.currentTarget.checked })}
          />
        )}
        {inbox && !watched && (
          <span className="quiet small">
            Watched now: {data?.roots[inbox.root]}/{inbox.path}
          </span>
        )}
      </div>
      <Button onClick={bringIn} disabled={!chosen.size} loading={isLoading}>
        {chosen.size ? `Bring in ${chosen.size}` : 'Bring in'}
      </Button>
    </Modal>
  );
}

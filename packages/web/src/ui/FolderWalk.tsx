import { Anchor, Breadcrumbs, SegmentedControl } from '@mantine/core';
import type { Folder } from '@tonos/contract';
import type { ReactNode } from 'react';
import { reasonOf } from '../api/reason-of.ts';
import classes from './FolderWalk.module.css';

interface FolderWalkProps {
  root: number;
  path: string;
  data: Folder | undefined;
  error: unknown;
  onGo(root: number, path: string): void;
  /** More of the list, behind the folders. */
  children?: ReactNode;
}

/** From the configured roots down through the folders of the server. */
export function FolderWalk({ root, path, data, error, onGo, children }: FolderWalkProps) {
  const parts = path.split('/').filter(Boolean);
  return (
    <>
      {(data?.roots.length ?? 0) > 1 && (
        <SegmentedControl
          size="xs"
          value={String(root)}
          onChange={(value) => onGo(Number(value), '')}
          data={data!.roots.map((label, i) => ({ label, value: String(i) }))}
        />
      )}
      <Breadcrumbs className={classes.path}>
        {[data?.roots[root] ?? '', ...parts].map((name, i) => {
          const to = parts.slice(0, i).join('/');
          return (
            <Anchor key={to} component="button" onClick={() => onGo(root, to)}>
              {name}
            </Anchor>
          );
        })}
      </Breadcrumbs>
      {error !== undefined && <p className="verdict-over">{reasonOf(error)}</p>}
      <ul className={classes.list}>
        {data?.folders.map((name) => (
          <li key={name}>
            <Anchor component="button" onClick={() => onGo(root, [...parts, name].join('/'))}>
              {name}/
            </Anchor>
          </li>
        ))}
        {children}
      </ul>
    </>
  );
}

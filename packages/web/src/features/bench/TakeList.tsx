import { Button, FileButton, VisuallyHidden } from '@mantine/core';
import type { Recording } from '@tonos/contract';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { sayError } from '../../ui/notify.ts';
import { clock, moment } from '../../ui/time.ts';
import { uploadFiles } from '../../uploads/index.ts';
import classes from './Bench.module.css';

/** The takes of a recording: the current one, those before it, and the way to a new one. */
export function TakeList({ recording }: { recording: Recording }) {
  const { data: takes = [] } = api.useTakesQuery(recording.id);
  const [makeCurrent] = api.useUseTakeMutation();
  const [share, setShare] = useState<number | null>(null);
  const navigate = useNavigate();
  const replace = async (file: File | null) => {
    if (!file) return;
    setShare(0);
    try {
      const [take] = await uploadFiles(recording.titleId, [file], {
        signal: new AbortController().signal,
        progress: ({ sentBytes, totalBytes }) => setShare(sentBytes / totalBytes),
        replaces: recording.id,
      });
      void navigate(`/recordings/${take.id}`);
    } catch (error) {
      sayError('The new take did not come in', error);
    } finally {
      setShare(null);
    }
  };
  const use = async (id: string) => {
    const { error } = await makeCurrent(id);
    if (error) sayError('The take was not changed', error);
    else void navigate(`/recordings/${id}`);
  };
  return (
    <section className={classes.takes} aria-label="Takes">
      {takes.length > 1 && (
        <table>
          <thead>
            <tr>
              <th>Takes</th>
              <th>
                <VisuallyHidden>Length</VisuallyHidden>
              </th>
              <th>
                <VisuallyHidden>Which counts</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {takes.map(({ id, name, createdAt, superseded, measurement }) => (
              <tr key={id} aria-current={id === recording.id || undefined}>
                <td title={name}>{moment(createdAt)}</td>
                <td className={classes.value}>{measurement ? clock(measurement.durationSeconds, 1) : ''}</td>
                <td>
                  {superseded ? (
                    <Button size="compact-xs" variant="default" onClick={() => use(id)}>
                      Use this one
                    </Button>
                  ) : (
                    'current'
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <FileButton onChange={(file) => void replace(file)}>
        {(props) => (
          <Button {...props} size="compact-sm" variant="subtle" loading={share !== null}>
            Replace with a new take
          </Button>
        )}
      </FileButton>
    </section>
  );
}

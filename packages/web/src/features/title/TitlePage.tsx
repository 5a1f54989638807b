import { Button } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { useDisclosure } from '@mantine/hooks';
import { useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { clock, moment } from '../../ui/time.ts';
import { RecordingTable } from './RecordingTable.tsx';
import { StartRunForm } from './StartRunForm.tsx';
import classes from './TitlePage.module.css';
import { UploadLine } from './UploadLine.tsx';
import { useUpload } from './use-upload.ts';

/** A title: its recordings with their figures; files dropped anywhere on the page come in. */
export function TitlePage() {
  const { id = '' } = useParams();
  const { data: title, error, refetch } = api.useTitleQuery(id);
  const { data: recordings } = api.useRecordingsQuery(id);
  const { data: runs } = api.useRunsQuery();
  const [unchosen, setUnchosen] = useState<ReadonlySet<string>>(new Set());
  const [starting, { open, close }] = useDisclosure(false);
  const upload = useUpload(id);
  const openFiles = useRef<() => void>(null);
  useHotkeys('n', open, { enabled: !!recordings?.length });
  useHotkeys('u', () => openFiles.current?.());
  if (error)
    return (
      <Page title="Title">
        <Trouble error={error} retry={refetch} />
      </Page>
    );
  const chosen = (recordings ?? []).filter((recording) => !unchosen.has(recording.id)).map((recording) => recording.id);
  const titleRuns = (runs ?? []).filter(({ titleId }) => titleId === id);
  const count = recordings?.length ?? 0;
  return (
    <Page
      title={title?.name ?? '\u00a0'}
      about={
        title &&
        `${title.kind} \u00b7 ${count} ${count === 1 ? 'recording' : 'recordings'} \u00b7 ${clock(title.totalSeconds)} in all`
      }
      acts={
        <>
          <Button variant="default" onClick={() => openFiles.current?.()}>
            Add files
          </Button>
          <Button onClick={open} disabled={!chosen.length}>
            {chosen.length === count ? 'Run all' : `Run ${chosen.length} chosen`}
          </Button>
        </>
      }
    >
      <Dropzone.FullScreen active onDrop={upload.send}>
        <p className={classes.drop}>Drop to add to “{title?.name}”</p>
      </Dropzone.FullScreen>
      <UploadLine upload={upload} />
      {recordings && count > 0 && <RecordingTable recordings={recordings} unchosen={unchosen} onChoose={setUnchosen} />}
      <Dropzone
        openRef={openFiles}
        onDrop={upload.send}
        className={count ? classes.zone : classes.largeZone}
        inputProps={{ 'aria-label': 'Files to add' }}
      >
        <p className={classes.invitation}>
          {count
            ? 'Drop more recordings here, or anywhere on this page.'
            : 'Drop recordings here, or press Enter to choose files. Each is checked, stored as it is, and measured.'}
        </p>
      </Dropzone>
      {titleRuns.length > 0 && (
        <p className="small quiet">
          Runs:{' '}
          {titleRuns.slice(0, 5).map((run, i) => (
            <span key={run.id}>
              {i > 0 && ' \u00b7 '}
              <Link to={`/runs/${run.id}`}>
                {run.targetName}, {moment(run.createdAt)}
              </Link>
            </span>
          ))}
        </p>
      )}
      {title && <StartRunForm opened={starting} onClose={close} title={title} recordingIds={chosen} />}
    </Page>
  );
}

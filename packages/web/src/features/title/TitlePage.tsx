import { Button } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { useDisclosure } from '@mantine/hooks';
import type { Recording, Standing } from '@tonos/contract';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { useAppSelector } from '../../app/store.ts';
import { For } from '../../people/For.tsx';
import { OthersHere } from '../../people/OthersHere.tsx';
import { useOthersHere } from '../../people/use-presence.ts';
import { BehindFirstFrame } from '../../ui/BehindFirstFrame.tsx';
import { lazily } from '../../ui/lazily.tsx';
import { Page } from '../../ui/Page.tsx';
import { ShowOnly } from '../../ui/ShowOnly.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { useChosenRows } from '../../ui/table/use-chosen-rows.ts';
import { areInPlace, useLedgerTable } from '../../ui/table/use-ledger-table.ts';
import { clock } from '../../ui/time.ts';
import { uploads } from '../../uploads/index.ts';
import { ChosenBar } from './ChosenBar.tsx';
import { Cover } from './Cover.tsx';
import { OrderMenu } from './OrderMenu.tsx';
import { ProposeChain } from './ProposeChain.tsx';
import { RecordingTable } from './RecordingTable.tsx';
import { recordingColumns } from './recording-columns.ts';
import { filterRecordings } from './sort-recordings.ts';
import { TitleHead } from './TitleHead.tsx';
import { TitleMenu } from './TitleMenu.tsx';
import classes from './TitlePage.module.css';
import { useTitleRecall } from './use-title-recall.tsx';

const BelowRows = lazily(async () => (await import('./BelowRows.tsx')).BelowRows);
const ServerFolder = lazily(async () => (await import('./ServerFolder.tsx')).ServerFolder);
const StartRunForm = lazily(async () => (await import('./StartRunForm.tsx')).StartRunForm);

const NO_STANDINGS: Standing[] = [];
const NO_RECORDINGS: Recording[] = [];
const IN_ORDER = [{ id: 'position', desc: false }];

/** A title: its recordings with their figures; files dropped anywhere on the page come in. */
export function TitlePage() {
  const { id = '' } = useParams();
  const { data: title, error, refetch } = api.useTitleQuery(id);
  const { data: newest } = api.useRecordingsQuery(id);
  // thousands of rows are drawn anew when nothing else waits
  const all = useDeferredValue(newest);
  const recordings = useMemo(() => all?.filter(({ kind }) => kind === 'voice'), [all]);
  const arriving = useAppSelector((state) => state.arriving[id] ?? false);
  const { data: standings = NO_STANDINGS } = api.useStandingQuery(id);
  const standingOf = useMemo(() => new Map(standings.map((one) => [one.recordingId, one])), [standings]);
  /** What is to be run, where it is not what is chosen. */
  const [wantedIds, setToRun] = useState<string[] | null>(null);
  const { data: targets } = api.useTargetsQuery();
  const [typed, setTyped] = useState('');
  const titleTarget = targets?.find((one) => one.id === title?.targetId);
  const levelLimit = titleTarget?.limits.find(({ aim }) => aim !== undefined);
  const found = useMemo(() => filterRecordings(recordings ?? [], typed), [recordings, typed]);
  const columns = useMemo(() => recordingColumns(levelLimit), [levelLimit]);
  const table = useLedgerTable(found, columns, IN_ORDER, areInPlace(found));
  const chosenRows = useChosenRows(table);
  const [starting, { open, close }] = useDisclosure(false);
  const { data: folder } = api.useFolderQuery({ root: 0, path: '' });
  const [choosing, folders] = useDisclosure(false);
  const send = (files: File[]) => uploads.send({ titleId: id, titleName: title?.name ?? '' }, files);
  const openFiles = useRef<() => void>(null);
  const [recalledChain, setRecalledChain] = useState<string | null>(null);
  useHotkeys('n', open, { enabled: !!recordings?.length && !arriving });
  useHotkeys('u', () => openFiles.current?.());
  const others = useOthersHere({ titleId: id });
  const chosen = (recordings ?? []).filter((recording) => chosenRows.chosen.has(recording.id));
  useTitleRecall({
    chosen,
    chainId: title?.chainId ?? null,
    run: (chainId) => {
      setRecalledChain(chainId);
      open();
    },
  });
  if (error)
    return (
      <Page title="Title">
        <Trouble error={error} retry={refetch} />
      </Page>
    );
  const toRun = chosen.length ? chosen : (recordings ?? []);
  // all is not known to be all before the last row is here
  const unknownYet = arriving && !chosen.length;
  const count = recordings?.length ?? 0;
  return (
    <Page
      title={title?.name ?? '\u00a0'}
      picture={title && <Cover title={title} />}
      about={
        title && (
          <>
            {[
              title.kind,
              title.closed && 'closed to all but some',
              title.approvedOnly && 'approved revisions only',
              title.details.authors && `by ${title.details.authors}`,
              arriving ? `${count} recordings so far` : `${count} ${count === 1 ? 'recording' : 'recordings'}`,
              `${clock(title.totalSeconds)} in all`,
            ]
              .filter(Boolean)
              .join(' \u00b7 ')}
            <OthersHere people={others} />
          </>
        )
      }
      acts={
        <>
          <For least="engineer">
            <Button variant="default" onClick={() => openFiles.current?.()}>
              Add files
            </Button>
            {title && !unknownYet && <ProposeChain title={title} recordings={toRun} target={titleTarget} />}
            <Button onClick={open} disabled={!toRun.length} loading={unknownYet}>
              {chosen.length ? `Run ${chosen.length} chosen` : 'Run all'}
            </Button>
          </For>
          {title && <TitleMenu title={title} onFolder={folder?.roots.length ? folders.open : undefined} />}
        </>
      }
    >
      <Dropzone.FullScreen active withinPortal={false} onDrop={send}>
        <p className={classes.drop}>Drop to add to “{title?.name}”</p>
      </Dropzone.FullScreen>
      {title && (
        <TitleHead
          title={title}
          standings={standings}
          onRunOutdated={(ids) => {
            setToRun(ids);
            open();
          }}
        />
      )}
      {count > 0 && (
        <div className={classes.tools}>
          {chosen.length > 0 ? (
            <ChosenBar recordings={chosen} chainId={title?.chainId ?? null} onClear={() => chosenRows.set([])} />
          ) : (
            <ShowOnly words="a name, a speaker, a complaint" value={typed} onChange={setTyped} />
          )}
          {!chosen.length && !arriving && (
            <OrderMenu titleId={id} recordings={recordings ?? NO_RECORDINGS} table={table} />
          )}
        </div>
      )}
      {count > 0 && (
        <RecordingTable table={table} standings={standingOf} chosenRows={chosenRows} levelLimit={levelLimit} />
      )}
      {count > 0 && found.length === 0 && (
        <p className="quiet">
          None of the {count} recordings has all of “{typed}”.
        </p>
      )}
      <BehindFirstFrame>
        <Dropzone
          openRef={openFiles}
          onDrop={send}
          className={count ? classes.zone : classes.largeZone}
          inputProps={{ 'aria-label': 'Files to add' }}
        >
          <p className={classes.invitation}>
            {count
              ? 'Drop more recordings here, or anywhere on this page.'
              : 'Drop recordings here, or press Enter to choose files. Each is checked, stored as it is, and measured.'}
          </p>
        </Dropzone>
        <BelowRows titleId={id} title={title} all={all ?? NO_RECORDINGS} recordings={recordings ?? NO_RECORDINGS} />
        <ServerFolder titleId={id} inbox={title?.inbox ?? null} opened={choosing} onClose={folders.close} />
        {title && (
          <StartRunForm
            opened={starting}
            onClose={() => {
              close();
              setRecalledChain(null);
              setToRun(null);
            }}
            title={title}
            recordingIds={wantedIds ?? toRun.map((recording) => recording.id)}
            key={recalledChain}
            firstChainId={recalledChain}
          />
        )}
      </BehindFirstFrame>
    </Page>
  );
}

import { Button } from '@mantine/core';
import { nanoid } from '@reduxjs/toolkit';
import type { Recording, Target } from '@tonos/contract';
import { type ComplaintPlace, type Measurement, spanOf } from '@tonos/core';
import { useMemo, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate, useParams } from 'react-router';
import { api } from '../../api/api.ts';
import { useSendOut } from '../../outside/use-send-out.tsx';
import { For } from '../../people/For.tsx';
import { NoteThread } from '../../people/NoteThread.tsx';
import { factsText } from '../../ui/facts-text.ts';
import { Page } from '../../ui/Page.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { clock } from '../../ui/time.ts';
import classes from './Bench.module.css';
import { CutTable } from './CutTable.tsx';
import { DeliveryTable } from './DeliveryTable.tsx';
import { FigureColumn } from './FigureColumn.tsx';
import { GoThrough } from './GoThrough.tsx';
import { MarkTable } from './MarkTable.tsx';
import { withNote } from './markings.ts';
import { NoteField } from './NoteField.tsx';
import { Plate } from './Plate.tsx';
import { ALL, OWN, SetHearing } from './SetHearing.tsx';
import { setSound } from './set-sound.ts';
import { tagsText } from './tags-text.ts';
import { useComplaintTour } from './use-complaint-tour.ts';
import { useCutting } from './use-cutting.ts';
import { useListen } from './use-listen.ts';
import { useMarkings } from './use-markings.ts';

/** One recording: look at it at any zoom, listen anywhere, read its figures against the title's target. */
export function BenchPage() {
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const { data: recording, error, refetch } = api.useRecordingQuery(id);
  const titleId = recording?.titleId ?? '';
  const { data: title } = api.useTitleQuery(titleId, { skip: !titleId });
  const { data: siblings = [] } = api.useRecordingsQuery(titleId, { skip: !titleId });
  const { data: targets } = api.useTargetsQuery();
  const at = siblings.findIndex((one) => one.id === id);
  const [previous, next] = [siblings[at - 1], at < 0 ? undefined : siblings[at + 1]];
  const go = (to: { id: string } | undefined) => to && void navigate(`/recordings/${to.id}`);
  const { sendOut, isSending } = useSendOut();
  useHotkeys(']', () => go(next), { useKey: true });
  useHotkeys('[', () => go(previous), { useKey: true });
  if (error)
    return (
      <Page title="Recording">
        <Trouble error={error} retry={refetch} />
      </Page>
    );
  if (!recording) return <Page title={'\u00a0'}>{null}</Page>;
  const { measurement } = recording;
  const target = targets?.find((one) => one.id === title?.targetId);
  return (
    <Page
      title={recording.givenName || recording.name}
      about={
        <>
          {measurement && `${factsText(measurement)} \u00b7 ${clock(measurement.durationSeconds, 2)} \u00b7 `}
          {tagsText(recording.tags)}
          <Link to={`/titles/${recording.titleId}`}>{title?.name}</Link>
        </>
      }
      acts={
        <>
          {measurement && (
            <For least="engineer">
              <Button
                variant="default"
                loading={isSending}
                title="As a file for another program; what comes back becomes a take of it"
                onClick={() => void sendOut({ recordingIds: [id] })}
              >
                Send out
              </Button>
            </For>
          )}
          <Button variant="default" disabled={!previous} onClick={() => go(previous)}>
            Previous
          </Button>
          <Button variant="default" disabled={!next} onClick={() => go(next)}>
            Next
          </Button>
        </>
      }
    >
      {measurement ? (
        <Bench key={id} recording={recording} measurement={measurement} target={target} siblings={siblings} />
      ) : (
        <p className="empty">
          {recording.error?.message ?? 'It is being measured; its picture appears here when that is done.'}
        </p>
      )}
    </Page>
  );
}

interface BenchProps {
  recording: Recording;
  measurement: Measurement;
  target: Target | undefined;
  siblings: readonly Recording[];
}

function Bench({ recording, measurement, target, siblings }: BenchProps) {
  const marking = useMarkings(recording);
  const { data: sets } = api.useSetsQuery(recording.titleId);
  const set = sets?.find(({ members }) => members.some(({ recordingId }) => recordingId === recording.id));
  const others = siblings.filter(({ id }) => id !== recording.id);
  const cutting = useCutting(recording, measurement, marking, others);
  const [heard, setHeard] = useState(OWN);
  const together = useMemo(
    () => (set && heard !== OWN ? setSound(recording, set, siblings, heard === ALL ? null : heard) : undefined),
    [set, heard, recording, siblings],
  );
  const listen = useListen(recording, measurement, cutting.uncut, siblings, together);
  const [place, setPlace] = useState<ComplaintPlace | null>(null);
  const tour = useComplaintTour(measurement.complaints, (next) => setPlace({ ...next }));
  return (
    <div className={classes.bench}>
      <div>
        {set && <SetHearing recordingId={recording.id} set={set} siblings={siblings} heard={heard} hear={setHeard} />}
        <Plate
          recording={recording}
          measurement={measurement}
          target={target}
          marking={marking}
          listen={listen}
          cutting={cutting}
          set={set}
          siblings={siblings}
          place={place}
        />
        <NoteField note={(at, text) => marking.change(withNote(marking.present, at, text, nanoid(10)))} />
        <GoThrough recordingId={recording.id} show={(span) => setPlace(span)} cover={cutting.coverThese} />
        <CutTable
          cutting={cutting}
          others={others}
          totalSeconds={measurement.durationSeconds}
          listen={listen.from}
          show={(cut) => {
            cutting.choose(cut.id);
            setPlace({ ...spanOf(cut) });
          }}
        />
        <MarkTable marking={marking} listen={listen.from} coverAll={cutting.coverAll} />
        <NoteThread about={{ kind: 'recording', id: recording.id }} />
      </div>
      <FigureColumn
        recording={recording}
        measurement={measurement}
        target={target}
        siblings={siblings}
        tour={tour}
        mended={listen.mended}
      />
      <DeliveryTable recording={recording} measurement={measurement} />
    </div>
  );
}

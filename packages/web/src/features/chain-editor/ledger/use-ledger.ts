import { type LedgerLine, pathOf, type Recording, ROUTES } from '@tonos/contract';
import { type Findings, type Ledger, type LedgerFigures, stepOfKind, type TimeSpan } from '@tonos/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { askSettled } from '../../../api/ask-settled.ts';
import { trackOf } from '../../../listening/source-of.ts';
import { useKnownModules } from '../../../modules/index.ts';
import { describeStep } from '../../../steps/describe-step.ts';
import type { StepPicture } from '../../../steps/pictures/step-picture.ts';
import type { EditedStep } from '../chain-slice.ts';
import { LedgerSeat } from './ledger-seat.ts';
import { type FromLedger, prefixKey } from './messages.ts';

/** So much is measured at once, while somebody edits. */
const STRETCH_SECONDS = 60;
/** While something is dragged, the account is asked for no more often. */
const ASK_EVERY_MS = 100;

export interface KnownRow {
  figures: LedgerFigures;
  lengthSeconds: number;
  /** Whether it is of the steps as they are now, and complete. */
  fresh: boolean;
}

export interface LedgerView {
  source: LedgerFigures | undefined;
  rows: Readonly<Record<string, KnownRow>>;
  /** What steps found, by step id: of the whole recording where it is known, otherwise of the stretch. */
  findings: Readonly<Record<string, Findings>>;
  /** What the figures are of. */
  of: 'whole' | 'stretch';
  stretch: TimeSpan;
  /** What the step that was asked for does. */
  picture: StepPicture | null;
  /** The share of the whole recording that is measured, while it is. */
  share: number | null;
  trouble: string | null;
}

/** The part of a recording that is looked at while somebody edits: all of it, or a minute round its middle. */
export function stretchOf(durationSeconds: number): TimeSpan {
  if (durationSeconds <= STRETCH_SECONDS) return { startSeconds: 0, endSeconds: durationSeconds };
  const startSeconds = Math.floor((durationSeconds - STRETCH_SECONDS) / 2);
  return { startSeconds, endSeconds: startSeconds + STRETCH_SECONDS };
}

interface Told {
  /** The steps that were asked about. */
  key: string;
  recordingId: string;
  ledger: Ledger;
  findings: Record<string, Findings>;
  /** Whether the rows have heard all of it. */
  done: boolean;
}

/** Rows that are not told yet stand as they were: figures that come and go are hard to read. */
function withRowsOf(before: Told, told: Told, steps: readonly EditedStep[]): Told {
  if (told.done) return told;
  const known = new Map([...before.ledger.rows, ...told.ledger.rows].map((row) => [row.id, row]));
  return { ...told, ledger: { ...told.ledger, rows: steps.flatMap(({ id }) => known.get(id) ?? []) } };
}

/** The ledger of an example while its chain is edited: a stretch at once, the whole recording in the background. */
export function useLedger(
  recording: Recording | undefined,
  steps: readonly EditedStep[],
  held: boolean,
  pictureOf: string | null = null,
): LedgerView {
  const seat = useRef<LedgerSeat>(null);
  const asked = useRef(0);
  const askedAt = useRef(0);
  const [near, setNear] = useState<Told | null>(null);
  const [whole, setWhole] = useState<Told | null>(null);
  const [picture, setPicture] = useState<StepPicture | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** Findings of the whole recording, by what they hang on. */
  const [found, setFound] = useState<Record<string, Findings>>({});

  // a step that can't run is left out: its row says why
  const known = useKnownModules();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is wrong with a step hangs on the modules that are known
  const usable = useMemo(() => steps.filter((step) => step.on && !describeStep(step).wrong), [steps, known]);
  const key = useMemo(() => prefixKey(usable), [usable]);
  const measurement = recording?.measurement ?? undefined;
  const durationSeconds = measurement?.durationSeconds ?? 0;
  const stretch = useMemo(() => stretchOf(durationSeconds), [durationSeconds]);
  const isAll = durationSeconds <= STRETCH_SECONDS;
  const recordingId = recording?.id ?? '';

  // biome-ignore lint/correctness/useExhaustiveDependencies: what was found belongs to one recording
  useEffect(() => setFound({}), [recordingId]);

  useEffect(() => {
    if (!recording || !measurement) return;
    seat.current ??= new LedgerSeat();
    const own = seat.current;
    const mine = ++asked.current;
    const hear = (data: FromLedger) => {
      if (data.asked !== asked.current) return;
      if (data.type === 'trouble') setTrouble(data.message);
      else if (data.type === 'picture') setPicture(data.picture);
      else {
        setTrouble(null);
        setNear((before) => {
          const told = {
            key,
            recordingId: recording.id,
            ledger: data.ledger,
            findings: data.findings,
            done: data.done,
          };
          return before?.recordingId === recording.id ? withRowsOf(before, told, usable) : told;
        });
      }
    };
    const question = {
      asked: mine,
      track: trackOf(pathOf(ROUTES.recordingSamples, { id: recording.id }), measurement, recording.boxes),
      stretch,
      steps: usable,
      known: { marks: recording.marks, roomTone: recording.roomToneChoice },
      findings: found,
      pictureOf,
    };
    const ask = () => {
      askedAt.current = performance.now();
      own.ask(question, hear);
    };
    const wait = askedAt.current + ASK_EVERY_MS - performance.now();
    if (wait <= 0) {
      ask();
      return;
    }
    const timer = setTimeout(ask, wait);
    return () => clearTimeout(timer);
  }, [recording, measurement, stretch, usable, key, found, pictureOf]);
  useEffect(
    () => () => {
      seat.current?.leave();
      seat.current = null;
    },
    [],
  );

  useEffect(() => {
    if (!recordingId || isAll || held) return;
    return askSettled<LedgerLine>(
      ROUTES.ledger,
      { params: { id: recordingId }, body: { steps: usable } },
      {
        tell: (line) => {
          if (line.type === 'progress') setShare(line.share);
          else if (line.type === 'failed') setTrouble(line.message);
          else {
            const findings = Object.fromEntries(line.reports.map((report) => [report.id, report.findings]));
            setWhole({ key, recordingId, ledger: line.ledger, findings, done: true });
            setFound((before) => ({ ...before, ...byPrefix(usable, findings) }));
          }
        },
        trouble: setTrouble,
        ended: () => setShare(null),
      },
    );
  }, [recordingId, isAll, held, usable, key]);

  return useMemo(() => {
    const isWhole = whole?.key === key && whole.recordingId === recordingId;
    const shown = isWhole ? whole : near?.recordingId === recordingId ? near : null;
    const fresh = shown?.key === key && shown.done;
    return {
      source: shown?.ledger.source,
      rows: Object.fromEntries((shown?.ledger.rows ?? []).map(({ id, ...row }) => [id, { ...row, fresh }])),
      findings: shown?.findings ?? {},
      of: isWhole || isAll ? 'whole' : 'stretch',
      stretch,
      picture: picture?.stepId === pictureOf ? picture : null,
      share,
      trouble,
    };
  }, [near, whole, key, recordingId, isAll, stretch, picture, pictureOf, share, trouble]);
}

/** Findings by what they hang on, so that they serve while steps after them change. */
function byPrefix(steps: readonly EditedStep[], findings: Record<string, Findings>): Record<string, Findings> {
  return Object.fromEntries(
    steps.flatMap(({ id, kind }, i) =>
      // what has its place in time serves the whole recording only
      findings[id] && !stepOfKind(kind)?.findingsInTime
        ? [[prefixKey(steps.slice(0, i + 1)), findings[id]] as const]
        : [],
    ),
  );
}

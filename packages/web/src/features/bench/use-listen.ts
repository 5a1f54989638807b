import type { Recording } from '@tonos/contract';
import {
  type Complaint,
  cutsInOrder,
  type Findings,
  type Measurement,
  NO_CHOICE,
  stepOfKind,
  type TimeSpan,
} from '@tonos/core';
import { useEffect, useMemo, useRef } from 'react';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import type { Track } from '../../listening/engine/messages.ts';
import { listeningSlice, type Playable } from '../../listening/listening-slice.ts';
import { pickUpTracks, roomToneOf, sourceOf } from '../../listening/source-of.ts';

const { listened: listenTo, seekAsked, loopChosen, sourceChanged, playingChanged } = listeningSlice.actions;

const MEND = 'mend';

type Remedy = NonNullable<Complaint['remedy']>;

/** Steps that learn from the whole recording can be heard at once only where they can follow it as well. */
const unstudied = (kind: string): Findings | undefined => {
  const { study, traits } = stepOfKind(kind) ?? {};
  return study ? traits?.unstudied : {};
};

/** What of a track people change while it is heard. */
const marked = ({ boxes, cut }: Track): string => JSON.stringify([boxes, cut?.cuts ?? []]);

/** Whether a remedy can be heard before anything was studied. */
export const canBeHeard = ({ kind }: Remedy): boolean => unstudied(kind) !== undefined;

/**
 * Listening to this recording, from a moment or round a stretch; boxes that are drawn meanwhile, and cuts, are heard at once.
 * @param uncut hears it as it was recorded; @param others those that pick-ups may come from; @param together what is heard instead on its time
 */
export function useListen(
  { id, name, boxes, cuts, roomToneChoice }: Recording,
  measurement: Measurement,
  uncut: boolean,
  others: readonly Recording[],
  together: Playable | undefined,
) {
  const dispatch = useAppDispatch();
  const current = useAppSelector((state) => state.listening.listened);
  const pickUps = useMemo(() => pickUpTracks(cuts, others), [cuts, others]);
  const alone = useMemo(() => {
    const roomTone = roomToneOf(measurement, roomToneChoice);
    const made = { cuts: uncut ? [] : cutsInOrder(cuts), roomTone, pickUps };
    return sourceOf(id, measurement, boxes, made);
  }, [id, measurement, boxes, cuts, roomToneChoice, uncut, pickUps]);
  const source = together ?? alone;
  const own = current?.source.track.url === source.track.url && !current.result;
  const before = useRef(source);
  useEffect(() => {
    const { track } = before.current;
    before.current = source;
    // the same moment is heard on, with the others or without them
    if (track.url !== source.track.url && current?.source.track.url === track.url && !current.result)
      dispatch(sourceChanged(source));
  }, [source, current, dispatch]);
  const heardMarks = current && marked(current.source.track);
  useEffect(() => {
    if (own && heardMarks !== marked(source.track)) dispatch(sourceChanged(source));
  }, [own, source, heardMarks, dispatch]);
  const from = (seconds: number) => {
    if (own) {
      dispatch(seekAsked(seconds));
      dispatch(playingChanged(true));
    } else dispatch(listenTo({ listened: { name, source, result: null }, side: 'source', fromSeconds: seconds }));
  };
  const repeat = ({ startSeconds, endSeconds }: TimeSpan) => {
    from(startSeconds);
    dispatch(loopChosen({ startSeconds, endSeconds }));
  };
  /** A stretch as a step would leave it, round and round; the recording itself is one key away. */
  const mended = ({ kind, settings }: Remedy, { startSeconds, endSeconds }: TimeSpan) => {
    const steps = [{ id: MEND, kind, on: true, mix: 1, settings }];
    const chain = {
      steps,
      upTo: MEND,
      findings: { [MEND]: unstudied(kind) ?? {} },
      findingsFromSeconds: 0,
      known: { marks: [], roomTone: NO_CHOICE },
      sourceLufs: null,
      afterLufs: {},
    };
    dispatch(listenTo({ listened: { name, source, result: null, chain }, side: 'chain', fromSeconds: startSeconds }));
    dispatch(loopChosen({ startSeconds, endSeconds }));
  };
  return { from, repeat, mended };
}

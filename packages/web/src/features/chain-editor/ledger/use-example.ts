import type { Recording, Target } from '@tonos/contract';
import { useEffect, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { api } from '../../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../../app/store.ts';
import { exampleSlice, NOTHING_WATCHED, type Watched } from './example-slice.ts';

export interface Example {
  watched: Watched;
  /** What is shown row by row; undefined while nothing can be. */
  recording: Recording | undefined;
  target: Target | undefined;
  change(part: Partial<Watched>): void;
}

/** The recording and the target that a chain is looked at with: at first, those of a title that uses it. */
export function useExample(chainId: string): Example {
  const dispatch = useAppDispatch();
  const watched = useAppSelector((state) => state.example[chainId]) ?? NOTHING_WATCHED;
  useAskedFor(chainId);
  const { data: titles } = api.useTitlesQuery();
  const { data: targets } = api.useTargetsQuery();
  const title = titles?.find((one) => one.chainId === chainId) ?? titles?.[0];
  const chosen = watched.recordingIds[0];
  const { data: ofTitle } = api.useRecordingsQuery(title?.id ?? '', { skip: !title || chosen !== undefined });
  const first = chosen ?? ofTitle?.find(({ status }) => status === 'ready')?.id;
  const { currentData: recording } = api.useRecordingQuery(first ?? '', { skip: first === undefined });
  const target = targets?.find(({ id }) => id === (watched.targetId ?? title?.targetId)) ?? targets?.[0];
  return useMemo(
    () => ({
      watched,
      recording: recording?.measurement ? recording : undefined,
      target,
      change: (part) => dispatch(exampleSlice.actions.watched({ chainId, ...part })),
    }),
    [watched, recording, target, chainId, dispatch],
  );
}

/** A page that leads here says what the chain is to be looked at with: `?example=<recording>&target=<target>`; taken over once. */
function useAskedFor(chainId: string): void {
  const dispatch = useAppDispatch();
  const [asked, ask] = useSearchParams();
  useEffect(() => {
    const [recordingId, targetId] = [asked.get('example'), asked.get('target')];
    if (recordingId)
      dispatch(exampleSlice.actions.watched({ chainId, recordingIds: [recordingId], ...(targetId && { targetId }) }));
    if (recordingId) ask({}, { replace: true });
  }, [asked, ask, chainId, dispatch]);
}

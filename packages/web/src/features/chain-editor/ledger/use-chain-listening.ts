import type { Recording } from '@tonos/contract';
import { useEffect, useMemo } from 'react';
import { useAppDispatch, useAppSelector } from '../../../app/store.ts';
import { type ChainListening, listeningSlice } from '../../../listening/listening-slice.ts';
import { sourceOf } from '../../../listening/source-of.ts';
import { useKnownModules } from '../../../modules/index.ts';
import { describeStep } from '../../../steps/describe-step.ts';
import type { EditedStep } from '../chain-slice.ts';
import type { LedgerView } from './use-ledger.ts';

const { listened: listenTo, chainChanged, playingChanged } = listeningSlice.actions;

export interface ListeningAct {
  playing: boolean;
  /** Plays the example through the chain, or pauses it. */
  toggle(): void;
}

/** Lets the example be heard through the chain under work; what is edited meanwhile is heard at once. */
export function useChainListening(
  recording: Recording | undefined,
  steps: readonly EditedStep[],
  current: string | null,
  ledger: LedgerView,
): ListeningAct {
  const dispatch = useAppDispatch();
  const { listened, playing } = useAppSelector((state) => state.listening);
  const source = useMemo(
    () => (recording?.measurement ? sourceOf(recording.id, recording.measurement, recording.boxes) : undefined),
    [recording],
  );
  const known = useKnownModules();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is wrong with a step hangs on the modules that are known
  const chain = useMemo((): ChainListening => {
    const on = steps.filter((step) => step.on && !describeStep(step).wrong);
    const chosen = steps.findIndex(({ id }) => id === current);
    // a step that is off stands for the last one before it that is on
    const upTo = on.findLast(({ id }) => steps.findIndex((step) => step.id === id) <= chosen)?.id ?? null;
    const marked = { marks: recording?.marks ?? [], roomTone: recording?.roomToneChoice };
    return {
      steps: on,
      upTo,
      findings: ledger.findings,
      findingsFromSeconds: ledger.of === 'whole' ? 0 : ledger.stretch.startSeconds,
      known: marked,
      sourceLufs: ledger.source?.integratedLufs ?? null,
      afterLufs: Object.fromEntries(
        Object.entries(ledger.rows).map(([id, { figures }]) => [id, figures.integratedLufs]),
      ),
    };
  }, [steps, current, ledger, recording, known]);
  const own = source !== undefined && listened?.source.track.url === source.track.url && !listened.result;
  useEffect(() => {
    if (own) dispatch(chainChanged(chain));
  }, [own, chain, dispatch]);
  return {
    playing: own && playing,
    toggle: () => {
      if (!source || !recording) return;
      if (own) dispatch(playingChanged(!playing));
      else
        dispatch(
          listenTo({
            listened: { name: recording.name, source, result: null, chain },
            side: 'chain',
            fromSeconds: ledger.stretch.startSeconds,
          }),
        );
    },
  };
}

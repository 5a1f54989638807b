import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import type { Recording } from '@tonos/contract';
import { api } from '../../api/api.ts';
import { fittingSteps, usePlaceSteps, useRecall } from '../../thumb-index/index.ts';
import { say, sayError } from '../../ui/notify.ts';
import classes from './ChosenBar.module.css';

interface TitleRecall {
  chosen: readonly Recording[];
  /** The title's own chain. */
  chainId: string | null;
  /** Offers a run through a chain. */
  run(chainId: string): void;
}

/**
 * What the thumb index does on a title's page: a chain is offered for a run of what is chosen; a preset or steps adjust the title's chain
 * for the recordings that are chosen.
 */
export function useTitleRecall({ chosen, chainId, run }: TitleRecall): void {
  const [change] = api.useChangeRecordingsMutation();
  const [askChain] = api.useLazyChainQuery();
  const stepsAt = usePlaceSteps();
  useRecall(async (place) => {
    if (place.content.kind === 'chain') return run(place.content.chainId);
    if (!chosen.length)
      return say(`Choose the recordings that “${place.name}” is for, then press i and ${place.letter} again.`);
    if (!chainId) return say('This title has no chain of its own yet: start a run once, and it has.');
    try {
      const chain = await askChain(chainId).unwrap();
      const { adjustments, missing } = fittingSteps(chain.steps, await stepsAt(place));
      if (!adjustments.length) return say(`${chain.name} has no step for it: ${missing.join(', ')} is missing.`);
      const before = chosen.map((recording) => ({ id: recording.id, steps: recording.adjustments[chainId] ?? [] }));
      await change({
        ids: chosen.map(({ id }) => id),
        adjust: { chainId, steps: adjustments, clear: [], replace: false },
      }).unwrap();
      const undo = async () => {
        notifications.hide(shown);
        for (const { id, steps } of before)
          await change({ ids: [id], adjust: { chainId, steps, clear: [], replace: true } });
      };
      const shown = notifications.show({
        autoClose: 15_000,
        message: (
          <div className={classes.undo}>
            {place.name}: {chosen.length === 1 ? 'one recording is' : `${chosen.length} recordings are`} adjusted
            {missing.length > 0 && `; ${chain.name} has no ${missing.join(', no ')}`}.
            <Button size="compact-xs" variant="default" onClick={() => void undo()}>
              Undo
            </Button>
          </div>
        ),
      });
    } catch (error) {
      sayError('Nothing was adjusted', error);
    }
  });
}

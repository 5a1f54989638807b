import { createHash } from 'node:crypto';
import type { FrozenSound } from '@tonos/contract';
import { adjustChain, type ChainStep, stepIds } from '@tonos/core';
import { markedOf } from '../recordings/by-hand.ts';
import type { RecordingEntity } from '../recordings/recording-entity.ts';

type Recording = Pick<
  RecordingEntity,
  'sha256' | 'marks' | 'roomToneChoice' | 'boxes' | 'cuts' | 'adjustments' | 'frozen'
>;

/** A recording's own steps of a chain up to one of them; undefined where the chain has that step no more. */
export function stepsUpTo(
  steps: readonly ChainStep[],
  { adjustments }: Recording,
  chainId: string,
  stepId: string,
): ChainStep[] | undefined {
  const at = stepIds(steps).indexOf(stepId);
  if (at < 0) return undefined;
  return adjustChain(steps.slice(0, at + 1), adjustments[chainId] ?? []).steps;
}

/** The steps behind a frozen sound; undefined where it does not stand for any of these. */
export function stepsBehind(
  steps: readonly ChainStep[],
  frozen: Pick<FrozenSound, 'stepId'> | undefined,
): ChainStep[] | undefined {
  const at = frozen ? stepIds(steps).indexOf(frozen.stepId) : -1;
  return at < 0 ? undefined : steps.slice(at + 1);
}

/** What a render begins with: a recording, or what came from outside in the place of a chain's first steps. */
export function beginOf<Frozen extends Pick<FrozenSound, 'stepId' | 'sha256' | 'timeMap'>>(
  sourceSha256: string,
  steps: readonly ChainStep[],
  frozen: Frozen | undefined,
): { sha256: string; steps: readonly ChainStep[]; frozen?: Frozen } {
  const behind = stepsBehind(steps, frozen);
  return behind ? { sha256: frozen!.sha256, steps: behind, frozen } : { sha256: sourceSha256, steps };
}

/** What sound is made from, as a hash: the same content is the same sound. */
export function basisOf(recording: Recording, chainId: string | null, steps: readonly ChainStep[]): string {
  const frozen = chainId === null ? undefined : recording.frozen[chainId];
  const content =
    chainId === null
      ? { source: recording.sha256 }
      : {
          source: recording.sha256,
          marked: markedOf(recording),
          steps: steps.map(({ note: _, ...step }) => step),
          // what stands behind the last of them is what comes of them, and not what they are made from
          ...(stepsBehind(steps, frozen)?.length && { frozen: frozen!.sha256 }),
        };
  return createHash('sha256').update(JSON.stringify(content)).digest('hex');
}

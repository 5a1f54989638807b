import type { RunItem } from '@tonos/contract';
import { missedText } from '@tonos/core';

/** What to say of an item in a few words: the limit that is missed by most, or its state. */
export function verdictText({ status, limits, accepted }: Pick<RunItem, 'status' | 'limits' | 'accepted'>): string {
  if (status !== 'off-target') return status === 'queued' ? 'waiting' : status;
  const missed = missedText(limits);
  return missed ? `${accepted ? 'accepted: ' : ''}${missed}` : 'off target: silence';
}

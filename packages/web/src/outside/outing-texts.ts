import type { Outing } from '@tonos/contract';

/** Where it goes out, and is laid in. */
export const placeText = ({ chainName, stepTitle }: Pick<Outing, 'chainName' | 'stepTitle'>): string =>
  stepTitle === null ? 'before the chain' : `after ${stepTitle} in ${chainName ?? 'a chain that is gone'}`;

/** How it stands, and what has to be known of it. */
export function stateText({ state, note, laidIn, isOlder }: Outing): { text: string; isBad: boolean } {
  const with_ = (text: string) => (note ? `${text}: ${note}` : text);
  if (state === 'making') return { text: 'being written', isBad: false };
  if (state === 'failed') return { text: with_('could not be written'), isBad: true };
  if (state === 'refused') return { text: with_('came back, and can\u2019t be laid in'), isBad: true };
  if (state === 'coming') return { text: 'coming back', isBad: false };
  if (state === 'out')
    return { text: isOlder ? 'outside; what it was made from is another now' : 'outside', isBad: isOlder };
  if (!laidIn) return { text: 'came back, and was taken out again', isBad: false };
  return { text: `${with_('laid in')}${isOlder ? '; older than what it stands for' : ''}`, isBad: isOlder };
}

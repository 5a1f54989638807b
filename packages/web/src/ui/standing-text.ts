import type { OutdatedBy, Standing, StandingState, TitleStanding } from '@tonos/contract';

/** What is said of a state, and how it is marked. */
export const STANDINGS: Readonly<Record<StandingState, { word: string; className: string }>> = {
  none: { word: 'not yet', className: 'quiet' },
  'under-way': { word: 'under way', className: 'quiet' },
  within: { word: 'within', className: 'verdict-within' },
  'off-target': { word: 'off target', className: 'verdict-over' },
  accepted: { word: 'accepted', className: '' },
  failed: { word: 'failed', className: 'verdict-over' },
  'out-of-date': { word: 'out of date', className: 'advice' },
};

const REASONS: Readonly<Record<OutdatedBy, string>> = {
  take: 'there is a newer take',
  chain: 'its chain has a newer revision',
  order: 'its running order has a newer revision',
  target: 'its target has a newer version',
  marks: 'other marks were made',
  adjustments: 'it was adjusted',
  outside: 'sound from outside was laid in or taken out',
};

/** Why a delivery is not what would be delivered today; empty where it is. */
export function outdatedText({ outdatedBy }: Standing): string {
  if (!outdatedBy.length) return '';
  const reasons = outdatedBy.map((reason) => REASONS[reason]);
  return `Since it was delivered, ${reasons.join(', and ')}.`;
}

/** In the order in which they are counted: what is well first, what is to be done last. */
const ORDER: readonly StandingState[] = [
  'within',
  'accepted',
  'under-way',
  'out-of-date',
  'off-target',
  'failed',
  'none',
];

/** Those that there are, with how many. */
export const countsOf = ({ counts }: Pick<TitleStanding, 'counts'>): { state: StandingState; count: number }[] =>
  ORDER.flatMap((state) => (counts[state] ? [{ state, count: counts[state] }] : []));

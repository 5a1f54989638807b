import type { OthersDraft, PersonRef } from '@tonos/contract';
import { moment } from '../ui/time.ts';

const listed = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;

interface OthersHereProps {
  people: readonly PersonRef[];
  /** Work in progress that others have of it. */
  drafts?: readonly OthersDraft[];
}

/** Who else looks at this now, and who else is changing it. Nothing where one is alone with it. */
export function OthersHere({ people, drafts = [] }: OthersHereProps) {
  const looking = people.filter(({ id }) => !drafts.some(({ person }) => person.id === id));
  const texts = [
    ...drafts.map(({ person, changedAt }) => `${person.name} has a draft, last changed ${moment(changedAt)}`),
    ...(looking.length
      ? [`${listed(looking.map(({ name }) => name))} ${looking.length === 1 ? 'is' : 'are'} here too`]
      : []),
  ];
  return texts.length ? <span role="status">{['', ...texts].join(' \u00b7 ')}</span> : null;
}

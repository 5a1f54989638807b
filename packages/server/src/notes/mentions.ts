import type { PersonEntity } from '../people/person-entity.ts';

/** Whom a text names with an @: names can have spaces in them, and the longest that fits counts. */
export function mentionedIn(text: string, people: readonly Pick<PersonEntity, 'id' | 'name' | 'leftAt'>[]): string[] {
  const there = people
    .filter(({ leftAt, name }) => leftAt === null && name)
    .sort((a, b) => b.name.length - a.name.length);
  const plain = text.normalize('NFKC').toLowerCase();
  const found = new Set<string>();
  for (let at = plain.indexOf('@'); at >= 0; at = plain.indexOf('@', at + 1)) {
    const person = there.find(({ name }) => {
      const key = name.normalize('NFKC').toLowerCase();
      return plain.startsWith(key, at + 1) && !/[\p{L}\p{N}]/u.test(plain.charAt(at + 1 + key.length));
    });
    if (person) found.add(person.id);
  }
  return [...found];
}

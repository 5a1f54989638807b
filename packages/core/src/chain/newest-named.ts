/** The one that is called so: capitals make no difference, and of several of one name the one that was changed last is meant. */
export function newestNamed<Named extends { name: string; changedAt: string }>(
  all: readonly Named[],
  name: string,
): Named | undefined {
  const called = name.toLowerCase();
  return all
    .filter((one) => one.name.toLowerCase() === called)
    .reduce<Named | undefined>((last, one) => (last && last.changedAt > one.changedAt ? last : one), undefined);
}

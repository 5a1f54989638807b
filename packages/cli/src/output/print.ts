/** Results go to standard output: as one JSON array, or as text for a reader. */
export function print<Result>(
  results: readonly Result[],
  asJson: boolean | undefined,
  toText: (result: Result) => string,
): void {
  const text = asJson ? JSON.stringify(results, undefined, 2) : results.map(toText).join('\n\n');
  process.stdout.write(`${text}\n`);
}

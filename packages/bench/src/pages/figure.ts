/** One measured thing: what is wanted and what was found. */
export interface Figure {
  what: string;
  wanted: string;
  found: string;
}

export const figureTable = (figures: readonly Figure[]): string =>
  [
    '| what | wanted | found |',
    '| --- | --- | --- |',
    ...figures.map(({ what, wanted, found }) => `| ${what} | ${wanted} | ${found} |`),
  ].join('\n');

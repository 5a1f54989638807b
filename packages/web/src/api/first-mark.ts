let mark: string | undefined;

/** Keeps how far the server had told of changes when the page first asked it something. */
export function noteFirstMark(answer: Response | undefined): void {
  mark ??= answer?.headers.get('Tonos-Mark') ?? undefined;
}

/** Where the stream of events begins at the same mark, all that the page has asked still stands. */
export const firstMark = (): string | undefined => mark;

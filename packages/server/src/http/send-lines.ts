import type { Response } from 'express';

/** Says that the one who asked has gone. */
export function goneSignal(response: Response): AbortSignal {
  const controller = new AbortController();
  response.on('close', () => controller.abort());
  return controller.signal;
}

/** Answers with lines of JSON while they come up. A failure before the first line is answered like any other. */
export async function sendLines<Line>(
  response: Response,
  run: (tell: (line: Line) => void, wanted: AbortSignal) => Promise<void>,
): Promise<void> {
  await run((line) => {
    if (!response.headersSent) response.type('application/x-ndjson');
    response.write(`${JSON.stringify(line)}\n`);
  }, goneSignal(response));
  response.end();
}

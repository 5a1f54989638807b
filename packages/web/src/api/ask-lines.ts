/** Asks for an answer that comes in lines of JSON. @param tell hears each of them */
export async function askLines<Line>(
  path: string,
  body: unknown,
  signal: AbortSignal,
  tell: (line: Line) => void,
): Promise<void> {
  const response = await fetch(`/api/${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    signal,
  });
  if (!response.ok || !response.body) {
    const problem = (await response.json().catch(() => ({}))) as { detail?: string };
    throw new Error(problem.detail ?? 'The server does not answer. See whether it still runs.');
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  for (let held = ''; ; ) {
    const { value, done } = await reader.read();
    const lines = (held + (value ?? '')).split('\n');
    held = lines.pop()!;
    for (const line of lines) if (line) tell(JSON.parse(line) as Line);
    if (done) return;
  }
}

/** What a failed call has to say. */
export function reasonOf(error: unknown): string {
  const { data, error: text } = error as { data?: { detail?: string }; error?: string };
  return data?.detail ?? text ?? 'The server did not answer. See whether it still runs, and try again.';
}

/** The same of an answer that was fetched by hand. */
export async function problemIn(response: Response): Promise<string> {
  const data = (await response.json().catch(() => undefined)) as { detail?: string } | undefined;
  return reasonOf({ data });
}

import type { Tonos } from '@tonos/e2e/tonos';

/** Asks the server, as its pages do: POST where there is something to say. */
export async function ask<Reply>(tonos: Tonos, path: string, body?: unknown): Promise<Reply> {
  const reply = await fetch(`${tonos.origin}/api${path}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: { origin: tonos.origin, 'content-type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  if (!reply.ok) throw new Error(`${path}: ${reply.status} ${await reply.text()}`);
  return reply.json() as Promise<Reply>;
}

import { inSlices } from '../in-slices.ts';

/** Entries of a list that are written in one go. */
const AT_ONCE = 200;

/** A reply whose JSON is there already: long lists are joined from parts that were kept. The type says what it reads as. */
export class JsonText<Reply> {
  declare readonly reads: Reply;

  constructor(readonly text: string) {}
}

/** What is sent for a reply. A long list is written some entries at a time, and the server answers others in between. */
export async function textOf(reply: unknown): Promise<string> {
  if (reply instanceof JsonText) return reply.text;
  if (!Array.isArray(reply)) return JSON.stringify(reply);
  const parts = await inSlices(reply, AT_ONCE, (some) => [JSON.stringify(some).slice(1, -1)]);
  return `[${parts.join(',')}]`;
}

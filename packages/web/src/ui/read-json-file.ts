import type * as z from 'zod';

/** Larger texts are none of the files that stay stable. */
const MOST_CHARACTERS = 2_000_000;

/** Reads a file of one format from outside. Throws what is wrong, and where. @param format such as `tonos.chain/1` */
export function readJsonFile<Content>(
  text: string,
  fileName: string,
  format: string,
  schema: z.ZodType<Content>,
): Content {
  const what = format.replace(/^tonos\.|\/.*$/g, '');
  if (text.length > MOST_CHARACTERS) throw new Error(`${fileName} is too large to be a ${what} file.`);
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch (error) {
    throw new Error(`${fileName} is no JSON: ${(error as Error).message}`);
  }
  const stated = (content as { format?: unknown } | null)?.format;
  if (typeof stated === 'string' && stated !== format)
    throw new Error(
      stated.startsWith(`tonos.${what}/`)
        ? `${fileName} is of a newer version (${stated}); this one reads ${format}.`
        : `${fileName} is no ${what} file but ${stated}.`,
    );
  const parsed = schema.safeParse(content);
  if (parsed.success) return parsed.data;
  const [{ path, message }] = parsed.error.issues;
  throw new Error(`${fileName} can\u2019t be used: ${path.join('.') || 'its content'}: ${message}`);
}

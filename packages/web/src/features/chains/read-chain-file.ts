import { type ChainFile, chainFaults, chainFile } from '@tonos/core';

export interface ReadChain {
  file: ChainFile;
  /** What is odd about it, and does not hinder: kinds of another version stay as they are. */
  remarks: string[];
}

/** Files beyond this are no chains. */
const MOST_BYTES = 2_000_000;

/** Reads a chain file from outside. Throws what is wrong, and where. */
export function readChainFile(text: string, fileName: string): ReadChain {
  if (text.length > MOST_BYTES) throw new Error(`${fileName} is too large to be a chain file.`);
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch (error) {
    throw new Error(`${fileName} is no JSON: ${(error as Error).message}`);
  }
  const format = (content as { format?: unknown } | null)?.format;
  if (typeof format === 'string' && format !== 'tonos.chain/1')
    throw new Error(
      format.startsWith('tonos.chain/')
        ? `${fileName} is of a newer version (${format}); this one reads tonos.chain/1.`
        : `${fileName} is no chain file but ${format}.`,
    );
  const parsed = chainFile.safeParse(content);
  if (!parsed.success) {
    const [{ path, message }] = parsed.error.issues;
    throw new Error(`${fileName} can\u2019t be used: ${path.join('.') || 'its content'}: ${message}`);
  }
  const faults = chainFaults(parsed.data.steps);
  const wrong = faults.filter(({ code }) => code === 'bad-setting');
  if (wrong.length) throw new Error(`${fileName}: ${wrong.map(({ message }) => message).join(' ')}`);
  return { file: parsed.data, remarks: faults.map(({ message }) => `${message} It is kept, and shown as missing.`) };
}

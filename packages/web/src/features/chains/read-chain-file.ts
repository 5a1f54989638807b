import { type ChainFile, chainFaults, chainFile } from '@tonos/core';
import { readJsonFile } from '../../ui/read-json-file.ts';

export interface ReadChain {
  file: ChainFile;
  /** What is odd about it, and does not hinder: kinds of another version stay as they are. */
  remarks: string[];
}

/** Reads a chain file from outside. Throws what is wrong, and where. */
export function readChainFile(text: string, fileName: string): ReadChain {
  const file = readJsonFile(text, fileName, 'tonos.chain/1', chainFile);
  const faults = chainFaults(file.steps);
  const wrong = faults.filter(({ code }) => code === 'bad-setting');
  if (wrong.length) throw new Error(`${fileName}: ${wrong.map(({ message }) => message).join(' ')}`);
  return { file, remarks: faults.map(({ message }) => `${message} It is kept, and shown as missing.`) };
}

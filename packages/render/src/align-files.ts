import { type Alignment, alignSources, type CancelSignal } from '@tonos/core';
import { type AudioFile, openAudio } from '@tonos/formats';

/**
 * Where files of one session lie on the time of the first that can be read.
 * @returns for each where it lies, or why it could not be read
 */
export async function alignFiles(
  files: readonly { path: string; name: string }[],
  signal?: CancelSignal,
): Promise<PromiseSettledResult<Alignment>[]> {
  const opened = await Promise.allSettled(files.map(({ path, name }) => openAudio(path, name)));
  const readable = opened.flatMap((one) => (one.status === 'fulfilled' ? [one.value] : []));
  try {
    const found = await alignReadable(readable, signal);
    return opened.map((one) => (one.status === 'fulfilled' ? found[readable.indexOf(one.value)] : one));
  } finally {
    for (const file of readable) await file.close();
  }
}

/** One after the other: a file whose end is damaged leaves the others their places. */
async function alignReadable(
  files: readonly AudioFile[],
  signal?: CancelSignal,
): Promise<PromiseSettledResult<Alignment>[]> {
  const found: PromiseSettledResult<Alignment>[] = [];
  let first: AudioFile | undefined;
  for (const file of files) {
    const [result] = await Promise.allSettled([
      alignSources(first ? [first, file] : [file], signal).then((places) => places[first ? 1 : 0]),
    ]);
    signal?.throwIfAborted();
    if (result.status === 'fulfilled') first ??= file;
    found.push(result);
  }
  return found;
}

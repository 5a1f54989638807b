import { basename } from 'node:path';
import { aiff } from './aiff/read-aiff.ts';
import { withoutId3BeforeFlac } from './bytes/behind-id3.ts';
import { type ByteReader, openBytes } from './bytes/byte-reader.ts';
import { flac } from './flac/read-flac.ts';
import { type AudioFile, type InputFormat, UnreadableFileError } from './format.ts';
import { mp3 } from './mp3/read-mp3.ts';
import { ogg } from './ogg/read-ogg.ts';
import { wav } from './wav/read-wav.ts';

/** Every format that is read. MP3 is last: its sync word is the weakest sign. */
export const INPUT_FORMATS: readonly InputFormat[] = [wav, aiff, flac, ogg, mp3];

const HEAD_BYTES = 4096;

/** Opens a file by what it holds, whatever its name. @param name how messages call it */
export async function openAudio(path: string, name = basename(path)): Promise<AudioFile> {
  let bytes: ByteReader;
  try {
    bytes = await withoutId3BeforeFlac(await openBytes(path));
  } catch (cause) {
    throw new UnreadableFileError(
      'unreadable',
      `${name} could not be opened. Look whether it is there and may be read.`,
      { file: name },
      { cause },
    );
  }
  try {
    if (!bytes.size)
      throw new UnreadableFileError('empty', `${name} is empty (0 bytes). Copy or export it again.`, { file: name });
    const head = await bytes.read(0, HEAD_BYTES);
    const format = INPUT_FORMATS.find((one) => one.recognises(head));
    if (!format) {
      throw new UnreadableFileError(
        'not-audio',
        `${name} is no sound file that Tonos reads (${INPUT_FORMATS.map((one) => one.name).join(', ')}). Export it as WAV or FLAC.`,
        { file: name },
      );
    }
    return await format.open(bytes, name);
  } catch (error) {
    await bytes.close();
    if (error instanceof UnreadableFileError) throw error;
    throw new UnreadableFileError(
      'unreadable',
      `${name} could not be read. It may be a folder, or be damaged.`,
      { file: name },
      { cause: error },
    );
  }
}

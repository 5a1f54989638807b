export { ByteWriter } from './bytes/byte-writer.ts';
export {
  type AudioFile,
  type AudioWriter,
  type OpenWriter,
  UnreadableFileError,
  type WriterOptions,
} from './format.ts';
export { INPUT_FORMATS, openAudio } from './open-audio.ts';
export { writerOf } from './output-formats.ts';
export { chapterSpans, type DeliveryChapter, type DeliveryNotes } from './tags/delivery-notes.ts';
export { type Picture, pictureFrom, pictureSize } from './tags/picture.ts';
export { readNotes } from './tags/read-notes.ts';
export type { FileMark, FileNotes, Tags } from './tags/tags.ts';
export { noteLoudness } from './wav/bext.ts';
export { writeWav } from './wav/write-wav.ts';

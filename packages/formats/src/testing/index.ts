export { shortPage } from '../ogg/ogg-page-writer.ts';
export { writeOpus } from '../ogg/write-opus.ts';
export { png } from './png.ts';
export { withMarks } from './with-marks.ts';

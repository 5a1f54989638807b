export { ByteWriter } from './bytes/byte-writer.ts';
export { type AudioFile, type AudioWriter, UnreadableFileError } from './format.ts';
export { INPUT_FORMATS, openAudio } from './open-audio.ts';
export { isWritable, writerOf } from './render/output-formats.ts';
export { measureFile, type RenderJob, type RenderResult, renderFile } from './render/render-file.ts';
export { surveyAudio } from './survey/survey-audio.ts';
export { SurveyReader } from './survey/survey-file.ts';
export { SPECTROGRAM, spectrogramOf, type View, type ViewRange, viewOf } from './survey/view.ts';
export { writeWav } from './wav/write-wav.ts';

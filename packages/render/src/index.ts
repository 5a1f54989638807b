export { type CutRecording, cutRecording, type MarkedByHand } from './cut-recording.ts';
export { DiskSpool } from './disk-spool.ts';
export { type Foretold, findRemedy, type Remedy, type RemedyQuestion } from './find-remedy.ts';
export { measureFile } from './measure-file.ts';
export { type RenderJob, type RenderResult, renderFile } from './render-file.ts';
export { surveyAudio } from './survey/survey-audio.ts';
export { SurveyReader } from './survey/survey-file.ts';
export { spectrogramOf, type View, type ViewRange, viewOf } from './survey/view.ts';

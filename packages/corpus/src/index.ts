export { CORPUS_VOICES, clean, type Narration, narrated, placed } from './corpus.ts';
export { add, air, atLevel, booth, fan, hum, sharpen, soften, white, wind } from './room.ts';
export { SPEECH_RATE, speak, type Voice } from './speech.ts';

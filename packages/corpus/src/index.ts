export * from './corpus.ts';
export * from './room.ts';
export * from './speech.ts';
export * from './speech-quality.ts';

import { lazily } from '../ui/lazily.tsx';

export { fittingSteps } from './fitting-steps.ts';
export { useRecall } from './recall.ts';
export { ThumbIndex } from './ThumbIndex.tsx';
export { usePlaceSteps } from './use-place-steps.ts';
export { usePlaces } from './use-places.ts';

export const LetterFields = lazily(async () => (await import('./LetterFields.tsx')).LetterFields);

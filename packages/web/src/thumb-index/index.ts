export { fittingSteps } from './fitting-steps.ts';
export { LetterFields } from './PlaceForm.tsx';
export { useRecall } from './recall.ts';
export { ThumbIndex } from './ThumbIndex.tsx';
export { usePlaceSteps } from './use-place-steps.ts';
export { usePlaces } from './use-places.ts';

import { cutFilter } from '../cut-filter.ts';
import { defineStep } from '../step.ts';

export const highPass = defineStep({
  kind: 'high-pass',
  title: 'High-pass',
  group: 'tone',
  summary: 'Takes away what lies below the voice: rumble, handling, thumps.',
  words: ['low cut', 'rumble', 'wind', 'handling', 'thump', 'boomy', 'traffic'],
  ...cutFilter('high', 80),
});

import { cutFilter } from '../cut-filter.ts';
import { defineStep } from '../step.ts';

export const lowPass = defineStep({
  kind: 'low-pass',
  title: 'Low-pass',
  group: 'tone',
  summary: 'Takes away what lies above the voice: hiss, whistles.',
  words: ['high cut', 'hiss', 'whistle', 'dull'],
  ...cutFilter('low', 16000),
});

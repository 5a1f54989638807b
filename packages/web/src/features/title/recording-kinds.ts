import type { RecordingKind } from '@tonos/contract';

/** What sounds in a recording, as it is chosen. */
export const KINDS: { value: RecordingKind; label: string }[] = [
  { value: 'voice', label: 'Voice' },
  { value: 'music', label: 'Music' },
  { value: 'sound', label: 'Sound' },
];

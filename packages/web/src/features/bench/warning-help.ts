import type { WarningCode } from '@tonos/core';

/** What usually helps, by warning. */
export const WARNING_HELP: Readonly<Record<WarningCode, string>> = {
  'one-sided':
    'A mono target takes the mean of both sides; a take with sound on one side only comes out 6 dB lower before the finish.',
  polarity: 'Flip one side before mixing to mono, or the voice will thin out or vanish.',
  clipped: 'Look for a safety track or a new take; a limiter hides nothing of it.',
  'dc-offset': 'DC removal takes it out and gives headroom back.',
  'too-quiet': 'Noise reduction before the first level step keeps the floor down when the voice is raised.',
  'no-room-tone':
    'Noise reduction follows the noise instead of learning it: ask for less of it, and listen to the pauses.',
  'digital-silence': 'Something cut the sound to nothing. Where room tone is asked for, fill these places with it.',
  'band-limited': 'Nothing can be brought back above the edge; a low-pass there keeps hiss out.',
  'uneven-level': 'A compressor with a low threshold and a slow release brings speakers nearer together.',
  'floor-changes': 'The room changed in the middle: split the recording there, or use the adaptive method.',
  damaged: 'Copy the file again from where it came from; what is missing is not made up.',
  truncated: 'Copy the file again from where it came from; it ends before its own header says.',
  'bad-samples': 'They are taken as silence; the program that wrote them has a fault.',
};

import type { Measurement } from '@tonos/core';
import { formatName } from './format-name.ts';

/** What a file is: "FLAC 16-bit 44.1 kHz mono". */
export function factsText({ codec, container, bitDepth, sampleRateHz, channels }: Measurement): string {
  const layout = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
  const name = formatName(codec === 'pcm' || codec === 'float' ? container : codec);
  return [name, bitDepth && `${bitDepth}-bit`, `${sampleRateHz / 1000} kHz`, layout].filter(Boolean).join(' ');
}

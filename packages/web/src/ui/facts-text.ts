import type { Measurement } from '@tonos/core';

/** What a file is: "FLAC 16-bit 44.1 kHz mono". */
export function factsText({ codec, container, bitDepth, sampleRateHz, channels }: Measurement): string {
  const layout = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
  const name = (codec === 'pcm' || codec === 'float' ? container : codec).toUpperCase();
  return [name, bitDepth && `${bitDepth}-bit`, `${sampleRateHz / 1000} kHz`, layout].filter(Boolean).join(' ');
}

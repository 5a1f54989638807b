/** What containers of sound are called in HTTP. */
const MEDIA_TYPES: Readonly<Record<string, string>> = {
  wav: 'audio/wav',
  rf64: 'audio/wav',
  bw64: 'audio/wav',
  aiff: 'audio/aiff',
  flac: 'audio/flac',
  mp3: 'audio/mpeg',
  ogg: 'audio/ogg',
};

export const mediaTypeOf = (container: string): string => MEDIA_TYPES[container] ?? 'application/octet-stream';

import { viewOf } from '../bytes/byte-reader.ts';

/** A picture that a delivery carries, its front cover. */
export interface Picture {
  mediaType: 'image/jpeg' | 'image/png';
  bytes: Uint8Array;
}

const PNG = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const FRONT_COVER = 3;
const BITS = 24;

/** A picture from its bytes; undefined where they are no JPEG and no PNG with a size. */
export function pictureFrom(bytes: Uint8Array): Picture | undefined {
  const mediaType = PNG.every((value, i) => bytes[i] === value) ? 'image/png' : 'image/jpeg';
  const picture: Picture = { mediaType, bytes };
  return pictureSize(picture) && picture;
}

/** Width and height in pixels, from the header. */
export function pictureSize({ mediaType, bytes }: Picture): { width: number; height: number } | undefined {
  const view = viewOf(bytes);
  if (mediaType === 'image/png') return bytes.length < 24 ? undefined : sized(view.getUint32(16), view.getUint32(20));
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return undefined;
  // JPEG: segments from marker to marker until the one that begins the frame (ITU-T T.81, B.2.2)
  for (let at = 2; at + 9 < bytes.length && bytes[at] === 0xff; at += 2 + view.getUint16(at + 2)) {
    const marker = bytes[at + 1];
    const isFrame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
    if (isFrame) return sized(view.getUint16(at + 7), view.getUint16(at + 5));
  }
  return undefined;
}

const sized = (width: number, height: number) => (width && height ? { width, height } : undefined);

/** The picture as FLAC keeps it (RFC 9639, 8.8); in Ogg it goes into a comment, as base64. */
export function pictureBlock(picture: Picture): Uint8Array {
  const type = new TextEncoder().encode(picture.mediaType);
  const { width, height } = pictureSize(picture)!;
  const bytes = new Uint8Array(32 + type.length + picture.bytes.length);
  const view = viewOf(bytes);
  view.setUint32(0, FRONT_COVER);
  view.setUint32(4, type.length);
  bytes.set(type, 8);
  const at = 8 + type.length; // an empty description follows
  [0, width, height, BITS, 0, picture.bytes.length].forEach((value, i) => {
    view.setUint32(at + 4 * i, value);
  });
  bytes.set(picture.bytes, at + 24);
  return bytes;
}

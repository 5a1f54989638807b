import { viewOf } from '../bytes/byte-reader.ts';
import { type Mp3Header, parseMp3Header } from './frame-header.ts';

/** LAME's encoder delay, in samples; decoders add 529 of their own and know it. */
export const ENCODER_DELAY = 576;

const CRC_TABLE = Uint16Array.from({ length: 256 }, (_, byte) => {
  let crc = byte;
  for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >> 1) ^ 0xa001 : crc >> 1;
  return crc;
});

/** CRC-16 of the Info tag: polynomial 0x8005, reflected. */
export function crc16(bytes: Uint8Array, start = 0): number {
  let crc = start;
  for (const byte of bytes) crc = (crc >> 8) ^ CRC_TABLE[(crc ^ byte) & 0xff];
  return crc;
}

/** The smallest bit rate of this version whose frame holds an Info tag. */
function infoHeaderBytes(first: Uint8Array): { head: Uint8Array; header: Mp3Header } {
  const head = first.slice(0, 4);
  head[1] |= 1; // no CRC
  for (let index = head[2] >> 4; index < 15; index++) {
    head[2] = (index << 4) | (head[2] & 0x0c);
    const header = parseMp3Header(head)!;
    if (header.frameBytes >= 4 + header.sideBytes + 156) return { head, header };
  }
  return { head, header: parseMp3Header(head)! };
}

export const infoFrameBytes = (first: Uint8Array): number => infoHeaderBytes(first).header.frameBytes;

/**
 * The frame before the music that says its length, so that decoders give back exactly the samples that went in.
 * @param first header of the first music frame; @param packets music frames; @param samples that were encoded
 */
export function infoFrame(
  first: Uint8Array,
  packets: number,
  musicBytes: number,
  samples: number,
  musicCrc: number,
): Uint8Array {
  const { head, header } = infoHeaderBytes(first);
  const bytes = new Uint8Array(header.frameBytes);
  const view = viewOf(bytes);
  bytes.set(head);
  const tag = 4 + header.sideBytes;
  bytes.set(new TextEncoder().encode('Info'), tag);
  view.setUint32(tag + 4, 0b1111); // frames, bytes, contents, quality
  view.setUint32(tag + 8, packets);
  view.setUint32(tag + 12, musicBytes + bytes.length);
  for (let i = 0; i < 100; i++) bytes[tag + 16 + i] = Math.floor((i * 256) / 100);
  view.setUint32(tag + 116, 50);
  const lame = tag + 120;
  bytes.set(new TextEncoder().encode('LAME3.100'), lame);
  bytes[lame + 9] = 0x01; // tag revision 0, constant bit rate
  const padding = packets * header.framesPerPacket - ENCODER_DELAY - samples;
  bytes[lame + 20] = Math.min(255, header.bitrateKbps);
  bytes[lame + 21] = ENCODER_DELAY >> 4;
  bytes[lame + 22] = ((ENCODER_DELAY & 15) << 4) | (padding >> 8);
  bytes[lame + 23] = padding & 255;
  view.setUint32(lame + 28, musicBytes + bytes.length);
  view.setUint16(lame + 32, musicCrc);
  view.setUint16(lame + 34, crc16(bytes.subarray(0, lame + 34)));
  return bytes;
}

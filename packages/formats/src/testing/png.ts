import { crc32, deflateSync } from 'node:zlib';

function chunk(type: string, content: Uint8Array): Buffer {
  const named = Buffer.concat([Buffer.from(type), content]);
  const [length, check] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(content.length);
  check.writeUInt32BE(crc32(named));
  return Buffer.concat([length, named, check]);
}

/** A PNG (W3C, 2003) of three bytes a pixel. Not compressed, so that it is as large as its pixels. @param seed another picture */
export function png(width: number, height: number, seed = 0): Buffer {
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([8, 2], 8);
  const row = 1 + 3 * width;
  const rows = Buffer.alloc(height * row).map((_, i) => (i % row ? (seed + 7 * i) % 251 : 0));
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  const pixels = chunk('IDAT', deflateSync(rows, { level: 0 }));
  return Buffer.concat([signature, chunk('IHDR', head), pixels, chunk('IEND', Buffer.alloc(0))]);
}

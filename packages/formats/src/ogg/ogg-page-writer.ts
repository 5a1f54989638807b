import { viewOf } from '../bytes/byte-reader.ts';
import type { ByteWriter } from '../bytes/byte-writer.ts';

const HEADER_BYTES = 27;
const MOST_SEGMENTS = 255;
const [FIRST_PAGE, LAST_PAGE] = [2, 4];

/** CRC-32 of Ogg: polynomial 0x04c11db7, not reflected, starting at 0. */
const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let crc = byte << 24;
  for (let k = 0; k < 8; k++) crc = crc & 0x80000000 ? (crc << 1) ^ 0x04c11db7 : crc << 1;
  return crc;
});

function crc32(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) crc = ((crc << 8) ^ CRC_TABLE[(crc >>> 24) ^ byte]) >>> 0;
  return crc;
}

/** Lacing values of a packet: 255 for each full segment, then what is left, 0 included. RFC 3533, 5. */
const segmentsOf = (bytes: number): number[] => [...new Array<number>(Math.floor(bytes / 255)).fill(255), bytes % 255];

/** Packets to the pages of one logical stream, RFC 3533. Packets larger than a page are not split: voices have none. */
export class OggPageWriter {
  private packets: Uint8Array[] = [];
  private lacing: number[] = [];
  private granule = 0n;
  private sequence = 0;

  constructor(
    private readonly bytes: ByteWriter,
    private readonly serial: number,
  ) {}

  /** @param granule position at the packet's end */
  async packet(packet: Uint8Array, granule: number): Promise<void> {
    const segments = segmentsOf(packet.length);
    if (this.lacing.length + segments.length > MOST_SEGMENTS) await this.endPage();
    this.packets.push(packet);
    this.lacing.push(...segments);
    this.granule = BigInt(granule);
  }

  /** Writes what is held as a page. @param granule replaces the position, where a stream ends before its last packet does */
  async endPage({ last = false, granule }: { last?: boolean; granule?: number } = {}): Promise<void> {
    if (!this.packets.length && !last) return;
    const { packets, lacing } = this;
    const page = new Uint8Array(HEADER_BYTES + lacing.length + packets.reduce((sum, { length }) => sum + length, 0));
    const view = viewOf(page);
    page.set(new TextEncoder().encode('OggS'));
    page[5] = (this.sequence === 0 ? FIRST_PAGE : 0) | (last ? LAST_PAGE : 0);
    view.setBigInt64(6, granule === undefined ? this.granule : BigInt(granule), true);
    view.setUint32(14, this.serial, true);
    view.setUint32(18, this.sequence++, true);
    page[26] = lacing.length;
    page.set(lacing, HEADER_BYTES);
    let at = HEADER_BYTES + lacing.length;
    for (const packet of packets) {
      page.set(packet, at);
      at += packet.length;
    }
    view.setUint32(22, crc32(page), true);
    this.packets = [];
    this.lacing = [];
    await this.bytes.write(page);
  }
}

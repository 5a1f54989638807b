import { viewOf } from '../bytes/byte-reader.ts';
import type { ByteWriter } from '../bytes/byte-writer.ts';

const HEADER_BYTES = 27;
const MOST_SEGMENTS = 255;
/** The position of a page on which no packet ends. */
const NONE_ENDS = -1n;

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

const [CONTINUED, FIRST_PAGE, LAST_PAGE] = [1, 2, 4];

interface PageContent {
  packets: readonly Uint8Array[];
  lacing: readonly number[];
  granule: bigint;
  serial: number;
  sequence: number;
  continued?: boolean;
  last?: boolean;
}

/** A page with its checksum. RFC 3533, 6. */
function pageOf({ packets, lacing, granule, serial, sequence, continued, last }: PageContent): Uint8Array {
  const page = new Uint8Array(HEADER_BYTES + lacing.length + packets.reduce((sum, { length }) => sum + length, 0));
  const view = viewOf(page);
  page.set(new TextEncoder().encode('OggS'));
  page[5] = (continued ? CONTINUED : 0) | (sequence === 0 ? FIRST_PAGE : 0) | (last ? LAST_PAGE : 0);
  view.setBigInt64(6, granule, true);
  view.setUint32(14, serial, true);
  view.setUint32(18, sequence, true);
  page[26] = lacing.length;
  page.set(lacing, HEADER_BYTES);
  let at = HEADER_BYTES + lacing.length;
  for (const packet of packets) {
    page.set(packet, at);
    at += packet.length;
  }
  view.setUint32(22, crc32(page), true);
  return page;
}

/** A page of a single short packet. */
export const shortPage = (packet: Uint8Array, serial: number, sequence: number): Uint8Array =>
  pageOf({ packets: [packet], lacing: segmentsOf(packet.length), granule: 0n, serial, sequence });

/** Packets to the pages of one logical stream, RFC 3533. */
export class OggPageWriter {
  private packets: Uint8Array[] = [];
  private lacing: number[] = [];
  private granule = 0n;
  private sequence = 0;
  /** Whether the page that is held begins within a packet. */
  private continued = false;

  constructor(
    private readonly bytes: ByteWriter,
    private readonly serial: number,
  ) {}

  /** @param granule position at the packet's end */
  async packet(packet: Uint8Array, granule: number): Promise<void> {
    const segments = segmentsOf(packet.length);
    if (this.lacing.length + segments.length > MOST_SEGMENTS) await this.endPage();
    let rest = packet;
    for (; segments.length > MOST_SEGMENTS; segments.splice(0, MOST_SEGMENTS)) {
      const bytes = 255 * MOST_SEGMENTS;
      await this.writePage([rest.subarray(0, bytes)], segments.slice(0, MOST_SEGMENTS), NONE_ENDS, false);
      this.continued = true;
      rest = rest.subarray(bytes);
    }
    this.packets.push(rest);
    this.lacing.push(...segments);
    this.granule = BigInt(granule);
  }

  /** Writes what is held as a page. @param granule replaces the position, where a stream ends before its last packet does */
  async endPage({ last = false, granule }: { last?: boolean; granule?: number } = {}): Promise<void> {
    if (!this.packets.length && !last) return;
    const { packets, lacing } = this;
    this.packets = [];
    this.lacing = [];
    await this.writePage(packets, lacing, granule === undefined ? this.granule : BigInt(granule), last);
  }

  private async writePage(
    packets: readonly Uint8Array[],
    lacing: readonly number[],
    granule: bigint,
    last: boolean,
  ): Promise<void> {
    const { serial, continued } = this;
    this.continued = false;
    await this.bytes.write(pageOf({ packets, lacing, granule, serial, sequence: this.sequence++, continued, last }));
  }
}

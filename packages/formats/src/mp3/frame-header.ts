/** MPEG audio layer III frame headers (ISO/IEC 11172-3, 13818-3). */
const BITRATES_KBPS = {
  mpeg1: [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  mpeg2: [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
} as const;
const RATES_HZ: Readonly<Record<number, readonly number[]>> = {
  3: [44100, 48000, 32000],
  2: [22050, 24000, 16000],
  0: [11025, 12000, 8000],
};

export interface Mp3Header {
  mpeg1: boolean;
  sampleRateHz: number;
  bitrateKbps: number;
  channels: 1 | 2;
  frameBytes: number;
  framesPerPacket: number;
  /** Bytes of side information after the header. */
  sideBytes: number;
}

export function parseMp3Header(bytes: Uint8Array, at = 0): Mp3Header | undefined {
  if (bytes[at] !== 0xff || (bytes[at + 1] & 0xe6) !== 0xe2) return undefined;
  const version = (bytes[at + 1] >> 3) & 3;
  const bitrateIndex = bytes[at + 2] >> 4;
  const sampleRateHz = RATES_HZ[version]?.[(bytes[at + 2] >> 2) & 3];
  const mpeg1 = version === 3;
  const bitrateKbps = (mpeg1 ? BITRATES_KBPS.mpeg1 : BITRATES_KBPS.mpeg2)[bitrateIndex];
  if (!sampleRateHz || !bitrateKbps) return undefined;
  const padding = (bytes[at + 2] >> 1) & 1;
  const channels = bytes[at + 3] >> 6 === 3 ? 1 : 2;
  const sideBytes = mpeg1 ? (channels === 1 ? 17 : 32) : channels === 1 ? 9 : 17;
  const frameBytes = Math.floor(((mpeg1 ? 144 : 72) * bitrateKbps * 1000) / sampleRateHz) + padding;
  return { mpeg1, sampleRateHz, bitrateKbps, channels, frameBytes, framesPerPacket: mpeg1 ? 1152 : 576, sideBytes };
}

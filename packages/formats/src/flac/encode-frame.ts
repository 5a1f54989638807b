import { BitWriter } from './bit-writer.ts';

/** One frame of FLAC (RFC 9639, section 9): constant, fixed predictor of order 0 to 4 with Rice-coded residual, or verbatim samples. */
export const FRAME_SAMPLES = 4096;

const SYNC_FIXED_SIZE = 0xfff8;
const SIZE_4096 = 0b1100;
const SIZE_IN_16_BITS = 0b0111;
const BITS_CODE = { 16: 0b100, 24: 0b110 } as const;
/** Rates that have a code of their own; others are written in Hz or tens of them. */
const RATE_CODES: Readonly<Record<number, number>> = {
  88200: 1,
  176400: 2,
  192000: 3,
  8000: 4,
  16000: 5,
  22050: 6,
  24000: 7,
  32000: 8,
  44100: 9,
  48000: 10,
  96000: 11,
};
const RATE_IN_HZ = 13;
const RATE_IN_TENS = 14;
const MID_SIDE = 0b1010;
const SUBFRAME = { constant: 0, verbatim: 1, fixed: 8 } as const;
const MOST_ORDER = 4;
const MOST_PARTITION_ORDER = 5;
/** Rice parameters of four bits reach to 14; beyond that there is a method with five. */
const MOST_SMALL_PARAMETER = 14;
const MOST_PARAMETER = 30;

const crcTable = (bits: 8 | 16, polynomial: number): Uint16Array =>
  Uint16Array.from({ length: 256 }, (_, byte) => {
    let crc = byte << (bits - 8);
    for (let i = 0; i < 8; i++) crc = crc & (1 << (bits - 1)) ? (crc << 1) ^ polynomial : crc << 1;
    return crc & (2 ** bits - 1);
  });
const CRC_8 = crcTable(8, 0x07);
const CRC_16 = crcTable(16, 0x8005);

const crc8 = (bytes: Uint8Array): number => bytes.reduce((crc, byte) => CRC_8[crc ^ byte], 0);
const crc16 = (bytes: Uint8Array): number =>
  bytes.reduce((crc, byte) => ((crc << 8) & 0xffff) ^ CRC_16[(crc >> 8) ^ byte], 0);

/** @param samples a channel each, equally long, at most FRAME_SAMPLES; @param number of the frame, from 0 */
export function encodeFrame(
  samples: readonly Int32Array[],
  bits: 16 | 24,
  sampleRateHz: number,
  number: number,
): Uint8Array {
  const frames = samples[0].length;
  const whole = frames === FRAME_SAMPLES;
  const out = new BitWriter(frames * samples.length * 4 + 64);
  const parts = subframesOf(samples, bits);
  out.write(SYNC_FIXED_SIZE, 16);
  out.write(whole ? SIZE_4096 : SIZE_IN_16_BITS, 4);
  const rate = rateCode(sampleRateHz);
  out.write(rate.code, 4);
  out.write(parts.assignment, 4);
  out.write(BITS_CODE[bits], 3);
  out.write(0, 1);
  writeNumber(out, number);
  if (!whole) out.write(frames - 1, 16);
  if (rate.written !== undefined) out.write(rate.written, 16);
  out.write(crc8(out.written), 8);
  for (const { channel, width } of parts.channels) writeSubframe(out, channel, width);
  out.align();
  out.write(crc16(out.written), 16);
  return out.written;
}

/** Readers that start in the middle of a file want the rate in every frame; one that fits none of the ways stands in STREAMINFO alone. */
function rateCode(hz: number): { code: number; written?: number } {
  const code = RATE_CODES[hz];
  if (code !== undefined) return { code };
  if (hz < 65536) return { code: RATE_IN_HZ, written: hz };
  return hz % 10 === 0 ? { code: RATE_IN_TENS, written: hz / 10 } : { code: 0 };
}

/** A frame's number in one to six bytes, as UTF-8 writes a code point. */
function writeNumber(out: BitWriter, number: number): void {
  if (number < 0x80) {
    out.write(number, 8);
    return;
  }
  let more = 1;
  while (number >= 2 ** (6 * more + 6 - more)) more++;
  const lead = (0xff << (7 - more)) & 0xff;
  out.write(lead | Math.floor(number / 2 ** (6 * more)), 8);
  for (let i = more - 1; i >= 0; i--) out.write(0x80 | (Math.floor(number / 2 ** (6 * i)) & 0x3f), 8);
}

/** Stereo as middle and side where that takes fewer bits: the side needs one bit more. */
function subframesOf(samples: readonly Int32Array[], bits: number) {
  const plain = samples.map((channel) => ({ channel, width: bits }));
  if (samples.length !== 2) return { assignment: samples.length - 1, channels: plain };
  const [left, right] = samples;
  const side = left.map((x, i) => x - right[i]);
  const middle = left.map((x, i) => (x + right[i]) >> 1);
  if (roughCost(middle) + roughCost(side) >= roughCost(left) + roughCost(right))
    return { assignment: 1, channels: plain };
  return {
    assignment: MID_SIDE,
    channels: [
      { channel: middle, width: bits },
      { channel: side, width: bits + 1 },
    ],
  };
}

const roughCost = (channel: Int32Array): number => {
  let sum = 0;
  for (let i = 2; i < channel.length; i++) sum += Math.abs(channel[i] - 2 * channel[i - 1] + channel[i - 2]);
  return Math.log2(sum + 1);
};

function writeSubframe(out: BitWriter, samples: Int32Array, width: number): void {
  if (samples.every((x) => x === samples[0])) {
    out.write(SUBFRAME.constant << 1, 8);
    out.writeSigned(samples[0], width);
    return;
  }
  const { order, residual } = bestFixed(samples);
  const rice = bestPartition(residual, order);
  const verbatimBits = samples.length * width;
  if (rice.bits + order * width >= verbatimBits) {
    out.write(SUBFRAME.verbatim << 1, 8);
    for (const x of samples) out.writeSigned(x, width);
    return;
  }
  out.write((SUBFRAME.fixed + order) << 1, 8);
  for (let i = 0; i < order; i++) out.writeSigned(samples[i], width);
  writeResidual(out, residual, order, rice);
}

/** The order of differences whose sizes add up to least. */
function bestFixed(samples: Int32Array): { order: number; residual: Int32Array } {
  let residual = samples;
  let best = { order: 0, residual, sum: sizeFrom(samples, MOST_ORDER) };
  for (let order = 1; order <= Math.min(MOST_ORDER, samples.length - 1); order++) {
    const before = residual;
    residual = before.map((x, i) => (i < order ? 0 : x - before[i - 1]));
    const sum = sizeFrom(residual, MOST_ORDER);
    if (sum < best.sum) best = { order, residual, sum };
  }
  return best;
}

function sizeFrom(values: Int32Array, from: number): number {
  let sum = 0;
  for (let i = from; i < values.length; i++) sum += Math.abs(values[i]);
  return sum;
}

interface Partition {
  order: number;
  parameters: number[];
  bits: number;
}

/** In how many parts the residual is cut, each with its own parameter. */
function bestPartition(residual: Int32Array, predictorOrder: number): Partition {
  let best: Partition | undefined;
  for (let order = 0; order <= MOST_PARTITION_ORDER; order++) {
    const length = residual.length / 2 ** order;
    if (!Number.isInteger(length) || length <= predictorOrder) break;
    const parameters: number[] = [];
    let bits = 6;
    for (let part = 0; part < 2 ** order; part++) {
      const from = part === 0 ? predictorOrder : part * length;
      const { parameter, cost } = riceOf(residual, from, (part + 1) * length);
      parameters.push(parameter);
      bits += cost + 5;
    }
    if (!best || bits < best.bits) best = { order, parameters, bits };
  }
  return best!;
}

const folded = (x: number): number => (x < 0 ? -2 * x - 1 : 2 * x);

/** The parameter near the logarithm of the mean, and what it costs in bits. */
function riceOf(residual: Int32Array, from: number, to: number): { parameter: number; cost: number } {
  let sum = 0;
  for (let i = from; i < to; i++) sum += folded(residual[i]);
  const count = Math.max(1, to - from);
  const parameter = Math.max(0, Math.min(MOST_PARAMETER, Math.floor(Math.log2(sum / count + 1))));
  let cost = count * (parameter + 1);
  const unit = 2 ** parameter;
  for (let i = from; i < to; i++) cost += Math.floor(folded(residual[i]) / unit);
  return { parameter, cost };
}

function writeResidual(out: BitWriter, residual: Int32Array, predictorOrder: number, rice: Partition): void {
  const wide = rice.parameters.some((parameter) => parameter > MOST_SMALL_PARAMETER);
  out.write(wide ? 1 : 0, 2);
  out.write(rice.order, 4);
  const length = residual.length / 2 ** rice.order;
  rice.parameters.forEach((parameter, part) => {
    out.write(parameter, wide ? 5 : 4);
    const unit = 2 ** parameter;
    for (let i = part === 0 ? predictorOrder : part * length; i < (part + 1) * length; i++) {
      const value = folded(residual[i]);
      const high = Math.floor(value / unit);
      out.writeUnary(high);
      const low = value - high * unit;
      if (parameter > 16) {
        out.write(Math.floor(low / 65536), parameter - 16);
        out.write(low % 65536, 16);
      } else out.write(low, parameter);
    }
  });
}

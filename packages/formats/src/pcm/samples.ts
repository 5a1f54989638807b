import { kernels, once, roomFor } from '@tonos/kernels';

/** How PCM and float samples lie in bytes, and back to planar floats. */
export interface SampleLayout {
  readonly bytes: number;
  read(view: DataView, offset: number): number;
  /** The kernel that reads the most common ones faster. */
  kernel?: 'from16' | 'from24';
}

type Layouts = Readonly<Record<string, SampleLayout>>;

const layouts = (littleEndian: boolean, eightBit: SampleLayout): Layouts => {
  // the signed byte is the last of three where the small end is first
  const [low, high] = littleEndian ? [0, 2] : [1, 0];
  return {
    'pcm-8': eightBit,
    'pcm-16': {
      bytes: 2,
      kernel: littleEndian ? 'from16' : undefined,
      read: (view, offset) => view.getInt16(offset, littleEndian) / 32768,
    },
    'pcm-24': {
      bytes: 3,
      kernel: littleEndian ? 'from24' : undefined,
      read: (view, offset) =>
        (view.getUint16(offset + low, littleEndian) | (view.getInt8(offset + high) << 16)) / 8388608,
    },
    'pcm-32': { bytes: 4, read: (view, offset) => view.getInt32(offset, littleEndian) / 2147483648 },
    'float-32': { bytes: 4, read: (view, offset) => view.getFloat32(offset, littleEndian) },
    'float-64': { bytes: 8, read: (view, offset) => view.getFloat64(offset, littleEndian) },
  };
};

/** WAV: little endian; 8 bits are unsigned. */
export const LITTLE_ENDIAN = layouts(true, { bytes: 1, read: (view, offset) => (view.getUint8(offset) - 128) / 128 });

/** AIFF: big endian; 8 bits are signed. */
export const BIG_ENDIAN = layouts(false, { bytes: 1, read: (view, offset) => view.getInt8(offset) / 128 });

/** Interleaved bytes to one array per channel. @param room arrays that may be used for them */
export function deinterleave(
  bytes: Uint8Array,
  { bytes: width, read, kernel }: SampleLayout,
  channels: number,
  room?: readonly Float32Array[],
): Float32Array[] {
  const frames = Math.floor(bytes.length / (width * channels));
  const out = Array.from({ length: channels }, (_, c) =>
    room && room[c].length >= frames ? room[c].subarray(0, frames) : new Float32Array(frames),
  );
  if (kernel) {
    readByKernel(kernel, bytes, out, width);
    return out;
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  out.forEach((samples, c) => {
    for (let i = 0, at = c * width; i < frames; i++, at += width * channels) samples[i] = read(view, at);
  });
  return out;
}

const CHUNK = 16384;
const MOST_FRAME_BYTES = 32;
/** from24 reads a byte before the first. */
const BEFORE = 16;

const kernelRoom = once(() => ({
  bytes: roomFor((BEFORE + CHUNK * MOST_FRAME_BYTES) / 4) + BEFORE,
  samples: roomFor(CHUNK),
}));

function readByKernel(name: 'from16' | 'from24', bytes: Uint8Array, out: readonly Float32Array[], width: number): void {
  const { bytes: from, samples: to } = kernelRoom();
  const kernel = kernels();
  const frameBytes = width * out.length;
  const frames = out[0].length;
  for (let start = 0; start < frames; start += CHUNK) {
    const count = Math.min(CHUNK, frames - start);
    kernel.u8.set(bytes.subarray(start * frameBytes, (start + count) * frameBytes), from);
    out.forEach((channel, c) => {
      kernel[name](from + c * width, count, frameBytes, to);
      channel.set(kernel.f32.subarray(to >> 2, (to >> 2) + count), start);
    });
  }
}

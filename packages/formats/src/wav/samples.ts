/** How PCM and float samples lie in WAV bytes (little endian), and back to planar floats. */
export interface SampleLayout {
  readonly bytes: number;
  read(view: DataView, offset: number): number;
}

export const SAMPLE_LAYOUTS: Readonly<Record<string, SampleLayout>> = {
  'pcm-8': { bytes: 1, read: (view, offset) => (view.getUint8(offset) - 128) / 128 },
  'pcm-16': { bytes: 2, read: (view, offset) => view.getInt16(offset, true) / 32768 },
  'pcm-24': {
    bytes: 3,
    read: (view, offset) => (view.getUint16(offset, true) | (view.getInt8(offset + 2) << 16)) / 8388608,
  },
  'pcm-32': { bytes: 4, read: (view, offset) => view.getInt32(offset, true) / 2147483648 },
  'float-32': { bytes: 4, read: (view, offset) => view.getFloat32(offset, true) },
  'float-64': { bytes: 8, read: (view, offset) => view.getFloat64(offset, true) },
};

/** Interleaved bytes to one array per channel. */
export function deinterleave(
  bytes: Uint8Array,
  { bytes: width, read }: SampleLayout,
  channels: number,
): Float32Array[] {
  const frames = Math.floor(bytes.length / (width * channels));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Array.from({ length: channels }, (_, c) => {
    const samples = new Float32Array(frames);
    for (let i = 0, at = c * width; i < frames; i++, at += width * channels) samples[i] = read(view, at);
    return samples;
  });
}

import { RealFft } from '@tonos/kernels';
import { dbToGain } from '../../signal/decibels.ts';
import { Random } from '../../signal/random.ts';

export interface Room {
  decaySeconds: number;
  preDelayMs: number;
  dampingHz: number;
}

const SEED = 0x726f6f6d;
const FRAME_SECONDS = 0.02;
/** Where the response is 60 dB down it ends, over so much. */
const END_SECONDS = 0.01;
/** Where T60 is that of the settings. */
const REFERENCE_HZ = 1000;
/** How sharply the decay quickens over the damping frequency. */
const ORDER = 4;

/** Reverberation time at a frequency: that of 1 kHz well below the damping frequency, half of what it would be at it, less above. */
export function decayAt({ decaySeconds, dampingHz }: Pick<Room, 'decaySeconds' | 'dampingHz'>, hz: number): number {
  const slowed = (f: number) => 1 + (f / dampingHz) ** ORDER;
  return (decaySeconds * slowed(REFERENCE_HZ)) / slowed(hz);
}

/**
 * A room's response: noise that dies away at each frequency by its own time (an exponential decay of diffuse sound; Moorer, 1979). Being
 * noise it has no modes that could ring. Its squares add up to one; the part before it is empty.
 * @param channel each has noise of its own
 */
export function roomResponse(room: Room, sampleRateHz: number, channel: number): Float32Array {
  const before = Math.round((room.preDelayMs / 1000) * sampleRateHz);
  const frames = Math.max(1, Math.round(room.decaySeconds * sampleRateHz));
  const response = new Float32Array(before + frames);
  const size = 2 ** Math.max(6, Math.round(Math.log2(FRAME_SECONDS * sampleRateHz)));
  const fft = new RealFft(size);
  const random = new Random(SEED + channel);
  const noise = Float32Array.from({ length: frames + 2 * size }, () => random.normal());
  const sum = new Float32Array(noise.length);
  const [re, im] = [new Float32Array(fft.bins), new Float32Array(fft.bins)];
  // decibels a second, by frequency
  const falls = Float64Array.from({ length: fft.bins }, (_, k) => 60 / decayAt(room, (k * sampleRateHz) / size));
  for (let start = 0; start + size <= noise.length; start += size / 4) {
    fft.forward(noise.subarray(start, start + size), re, im, 'root-hann');
    // the frame's middle, counted from where the response begins
    const seconds = Math.max(0, start + size / 2 - size) / sampleRateHz;
    for (let k = 0; k < fft.bins; k++) {
      const gain = dbToGain(-falls[k] * seconds);
      re[k] *= gain;
      im[k] *= gain;
    }
    const frame = new Float32Array(size);
    fft.inverse(re, im, frame);
    for (let i = 0; i < size; i++) sum[start + i] += frame[i] * (Math.sin((Math.PI * i) / size) / Math.SQRT2);
  }
  const end = Math.min(frames, Math.round(END_SECONDS * sampleRateHz));
  let power = 0;
  for (let i = 0; i < frames; i++) {
    const x = sum[size + i] * Math.min(1, (frames - i) / end);
    response[before + i] = x;
    power += x * x;
  }
  const scale = 1 / Math.sqrt(power);
  return response.map((x) => x * scale);
}

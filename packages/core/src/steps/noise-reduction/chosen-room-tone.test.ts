import { babble, levelDb, mixed, noise } from '../../testing/index.ts';
import { NoiseProfiler } from './noise-profile.ts';

const RATE = 16000;
const FORMAT = { sampleRateHz: RATE, channels: 1 };
/** A voice; its room is 20 dB louder from second 8 on. */
const room = noise(0.001, 16, RATE, 3).map((x, i) => (i < 8 * RATE ? x : 10 * x));
const recording = mixed(
  babble(16, RATE).map((x) => 0.3 * x),
  room,
);

const profileOf = (choice?: ConstructorParameters<typeof NoiseProfiler>[1]) => {
  const profiler = new NoiseProfiler(FORMAT, choice);
  for (let start = 0; start < recording.length; start += 3000) profiler.hear([recording.slice(start, start + 3000)]);
  return profiler.conclude()!;
};
/** In dB, of white noise read by the profile's own transform. */
const levelOf = ({ powers }: { powers: number[][] }) =>
  10 * Math.log10(powers[0].reduce((sum, x) => sum + x, 0) / powers[0].length);

describe('room tone chosen by hand', () => {
  it('is what the noise is learned from, and only that', () => {
    const late = profileOf({ use: [{ startSeconds: 15.1, endSeconds: 15.9 }], never: [] });
    const early = profileOf({ use: [{ startSeconds: 0.1, endSeconds: 0.9 }], never: [] });
    expect(Math.abs(levelOf(late) - levelOf(early) - 20)).toBeLessThan(1);
    expect(early.regions).toHaveLength(1);
    expect(Math.abs(early.regions[0].rmsDbfs - levelDb(room.subarray(0.1 * RATE, 0.9 * RATE)))).toBeLessThan(0.5);
  });

  it('is never where it was forbidden', () => {
    expect(profileOf().regions.some(({ startSeconds }) => startSeconds < 1)).toBe(true);
    const { regions } = profileOf({ use: [], never: [{ startSeconds: 0, endSeconds: 1.5 }] });
    expect(regions.length).toBeGreaterThan(0);
    expect(regions.every(({ startSeconds }) => startSeconds >= 1.5)).toBe(true);
  });

  it('falls back to what is found where the choice is too short to learn from', () => {
    const profile = profileOf({ use: [{ startSeconds: 0.1, endSeconds: 0.12 }], never: [] });
    expect(profile.regions).toEqual(profileOf().regions);
  });
});

import { joined, mixed, noise, sine } from '../testing/index.ts';
import { SpectrumMeter } from './spectrum.ts';

const spectrumOf = (samples: Float32Array, sampleRateHz: number, blockFrames = 5000) => {
  const meter = new SpectrumMeter({ sampleRateHz, channels: 1 });
  for (let at = 0; at < samples.length; at += blockFrames) meter.hear([samples.slice(at, at + blockFrames)]);
  return meter.conclude();
};
const bandAt = (centresHz: readonly number[], hz: number) =>
  centresHz.findIndex((centre) => hz < centre * 2 ** (1 / 12) && hz >= centre / 2 ** (1 / 12));

describe.each([16000, 48000, 96000])('the long-term spectrum at %d Hz', (rate) => {
  it('shows a sine in its band at its level: -20 dBFS peak is -23 dBFS', () => {
    const { centresHz, loudDb } = spectrumOf(sine(1000, 0.1, 4, rate), rate);
    expect(Math.abs(loudDb[bandAt(centresHz, 1000)]! + 23.01)).toBeLessThan(0.2);
    expect(loudDb[bandAt(centresHz, 4000)] ?? -200).toBeLessThan(-90);
  });

  it('rises by 3 dB an octave for white noise, whose power grows with a band\u2019s width', () => {
    const { centresHz, loudDb } = spectrumOf(noise(0.1, 20, rate), rate);
    const [low, high] = [loudDb[bandAt(centresHz, 500)]!, loudDb[bandAt(centresHz, 4000)]!];
    expect(Math.abs(high - low - 9.03)).toBeLessThan(1); // a band's edge lies on a bin
  });

  it('tells the loud from the quiet: a tone of 2 kHz in noise that goes on', () => {
    const tone = joined(sine(2000, 0.2, 6, rate), new Float32Array(6 * rate));
    const { centresHz, loudDb, quietDb, levels } = spectrumOf(mixed(tone, noise(0.0005, 12, rate)), rate);
    const band = bandAt(centresHz, 2000);
    expect(Math.abs(loudDb[band]! - (20 * Math.log10(0.2) - 3.01))).toBeLessThan(0.4);
    expect(quietDb[band]!).toBeLessThan(-70);
    const heard = levels.counts.reduce((sum, count) => sum + count, 0) * levels.secondsEach;
    expect(Math.abs(heard - 12)).toBeLessThan(0.1);
  });
});

it('does not depend on how the samples come', () => {
  const samples = noise(0.1, 3, 48000);
  expect(spectrumOf(samples, 48000, 777)).toEqual(spectrumOf(samples, 48000, 100_000));
});

it('has no levels in digital silence', () => {
  const { loudDb, quietDb } = spectrumOf(new Float32Array(48000), 48000);
  expect(new Set([...loudDb, ...quietDb])).toEqual(new Set([null]));
});

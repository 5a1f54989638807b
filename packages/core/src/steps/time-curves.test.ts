import { fade } from './fade/fade.ts';
import { reverb } from './reverb/reverb.ts';
import { shortenPauses } from './shorten-pauses/shorten-pauses.ts';

/** What pictures of the Time steps show is what they do. */

it('of a pause stays what was asked, or as much as its breaths need', () => {
  const pause = (startSeconds: number, endSeconds: number, quiet = [{ startSeconds, endSeconds }]) => ({
    startSeconds,
    endSeconds,
    quiet,
  });
  const settings = shortenPauses.settings.parse({ longestSeconds: 1.5, keepPercent: 25 });
  const pauses = [
    pause(1, 5),
    pause(8, 9),
    // a breath fills all but half a second of it
    pause(10, 13, [{ startSeconds: 10, endSeconds: 10.56 }]),
  ];
  const shown = shortenPauses.curves!.pauses!(settings, { frames: 20 * 48000, speech: null, pauses });
  expect(shown.map(({ startSeconds }) => startSeconds)).toEqual([1, 8, 10]);
  // 1.5 s and a quarter of the 2.5 s that are over
  expect(shown[0].afterSeconds).toBeCloseTo(2.125, 9);
  expect(shown[1]).toEqual({ startSeconds: 8, beforeSeconds: 1, afterSeconds: 1 });
  expect(shown[2].afterSeconds).toBeCloseTo(3 - 0.5, 9);
});

it.each(['linear', 'equal-power', 's-curve'] as const)(
  'a fade is drawn as it sounds: %s, also where two meet',
  (shape) => {
    const rate = 1000;
    for (const seconds of [10, 2.5]) {
      const settings = fade.settings.parse({ inSeconds: 1, outSeconds: 3, shape });
      const frames = seconds * rate;
      const ones = new Float32Array(frames).fill(1);
      fade.start(settings, { sampleRateHz: rate, channels: 1 }, { frames, seconds }).process([ones]);
      const gainAt = fade.curves!.envelope!(settings, { frames, seconds });
      for (let i = 0; i < frames; i += 7) expect(Math.abs(gainAt(i / rate) - ones[i])).toBeLessThan(3e-3);
    }
  },
);

it('a room is 60 dB down where its settings say so, sooner where it is damped', () => {
  const decays = reverb.curves!.decay!(reverb.settings.parse({ decaySeconds: 2, preDelayMs: 100, dampingHz: 4000 }));
  const at = (hz: number) => decays.find((one) => one.hz === hz)!;
  expect(at(1000).endSeconds).toBeCloseTo(2.1, 9);
  expect(at(1000).levelDb(1.1)).toBeCloseTo(-30, 9);
  expect(at(1000).levelDb(0.05)).toBe(Number.NEGATIVE_INFINITY);
  for (const { levelDb, endSeconds } of decays) expect(levelDb(endSeconds)).toBeCloseTo(-60, 9);
  // half as long at the damping frequency as far below it
  expect((at(4000).endSeconds - 0.1) / (at(250).endSeconds - 0.1)).toBeCloseTo(0.5, 2);
});

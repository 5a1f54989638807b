import { LoudnessMeter } from '../../measure/loudness.ts';
import { babble, levelDb, mixed, noise, processBlock, sine } from '../../testing/index.ts';

const run = async (input: Float32Array[], rate: number, settings: Record<string, unknown>, blockFrames = 4096) =>
  processBlock([{ kind: 'pace', settings }], input, rate, blockFrames);

/** A vowel: harmonics of a pitch under two resonances. */
function vowel(pitch: number, formants: readonly number[], seconds: number, rate: number): Float32Array {
  const shape = (hz: number) => formants.reduce((sum, f) => sum + 1 / (1 + ((hz - f) / 90) ** 2), 0.003);
  return mixed(
    ...Array.from({ length: Math.floor(6000 / pitch) }, (_, h) =>
      sine((h + 1) * pitch, 0.03 * shape((h + 1) * pitch), seconds, rate, h),
    ),
  );
}

/** Magnitude at a frequency, over a Hann window. */
function at(samples: Float32Array, hz: number, rate: number): number {
  let [re, im] = [0, 0];
  for (let i = 0; i < samples.length; i++) {
    const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / samples.length);
    re += window * samples[i] * Math.cos((2 * Math.PI * hz * i) / rate);
    im += window * samples[i] * Math.sin((2 * Math.PI * hz * i) / rate);
  }
  return Math.hypot(re, im);
}

/** The frequency of most magnitude near one, in cents from it. */
function centsFrom(samples: Float32Array, hz: number, rate: number): number {
  let [best, most] = [0, 0];
  for (let cents = -40; cents <= 40; cents += 0.25) {
    const much = at(samples, hz * 2 ** (cents / 1200), rate);
    if (much > most) [best, most] = [cents, much];
  }
  return best;
}

it('at 100 % and 0 semitones it is the source to the bit', async () => {
  const voice = babble(4, 16_000);
  expect((await run([voice], 16_000, {})).output[0]).toEqual(voice);
  expect((await run([voice], 16_000, { fitSeconds: 4 })).output[0]).toEqual(voice);
});

it.each([
  [48_000, { tempoPercent: 83 }, 1 / 0.83],
  [44_100, { tempoPercent: 125, pitchSemitones: -3 }, 0.8],
  [16_000, { tempoPercent: 50 }, 2],
  [8000, { tempoPercent: 200, pitchSemitones: 12 }, 0.5],
  [48_000, { fitSeconds: 5 }, 0.625],
  [48_000, { fitSeconds: 1, tempoPercent: 130 }, 0.5],
])('at %d Hz %j is as long as asked within a millisecond', async (rate, settings, ratio) => {
  const voice = mixed(babble(8, rate), noise(0.0005, 8, rate));
  const { output, reports } = await run([voice, voice.map((x) => x / 2)], rate, settings, 1111);
  expect(Math.abs(output[0].length / rate - 8 * ratio)).toBeLessThan(1e-3);
  expect(reports[0].timeMap!.at(-1)).toEqual([8, output[0].length / rate]);
  // channels are moved alike
  for (let i = 0; i < output[0].length; i += 101) expect(output[1][i]).toBeCloseTo(output[0][i] / 2, 4);
  // out of reach is said
  expect('note' in reports[0].findings).toBe('fitSeconds' in settings && settings.fitSeconds === 1);
});

it.each([
  [0, 80],
  [0, 150],
  [3, 100],
  [-5, 100],
  [7, 120],
])('%d semitones at %d %% are pitched so within 3 cents', async (pitchSemitones, tempoPercent) => {
  const rate = 24_000;
  const pitch = 130;
  for (const keepFormants of [true, false]) {
    const { output } = await run([vowel(pitch, [600, 1400], 3, rate)], rate, {
      pitchSemitones,
      tempoPercent,
      keepFormants,
    });
    const middle = output[0].subarray(output[0].length / 4, (3 * output[0].length) / 4);
    // a harmonic where there is sound
    const wanted = 4 * pitch * 2 ** (pitchSemitones / 12);
    expect(Math.abs(centsFrom(middle, wanted, rate))).toBeLessThan(3);
  }
});

it.each([4, -4])('resonances stay within 5 %% where that is asked, at %d semitones', async (pitchSemitones) => {
  const rate = 24_000;
  const pitch = 110;
  const ratio = 2 ** (pitchSemitones / 12);
  const centre = (samples: Float32Array, own: number, near: number) => {
    // the middle of power of the harmonics round a resonance
    let [sum, weight] = [0, 0];
    for (let h = 1; h * own < near * 1.35; h++) {
      if (h * own < near * 0.65) continue;
      const power = at(samples, h * own, rate) ** 2;
      sum += power * h * own;
      weight += power;
    }
    return sum / weight;
  };
  const own = pitch * ratio;
  const { output } = await run([vowel(pitch, [700, 1800], 3, rate)], rate, { pitchSemitones });
  const moved = await run([vowel(pitch, [700, 1800], 3, rate)], rate, { pitchSemitones, keepFormants: false });
  const part = (samples: Float32Array) => samples.subarray(rate, 2 * rate);
  // beside a voice that has this pitch and these resonances: a pitch shows them at its harmonics only
  const [wanted, along] = [1, ratio].map((by) => vowel(own, [700 * by, 1800 * by], 3, rate));
  for (const near of [700, 1800]) {
    const kept = centre(part(output[0]), own, near) / centre(part(wanted), own, near);
    expect(Math.abs(kept - 1)).toBeLessThan(0.05);
    const carried = centre(part(moved.output[0]), own, near * ratio) / centre(part(along), own, near * ratio);
    expect(Math.abs(carried - 1)).toBeLessThan(0.05);
  }
});

it('onsets are neither doubled nor swallowed, and come when the map says', async () => {
  const rate = 48_000;
  const bursts = [0.4, 0.93, 1.51, 2.2, 2.61, 3.3];
  const input = noise(1e-4, 4, rate, 2);
  for (const [k, seconds] of bursts.entries()) {
    const burst = noise(0.2, 0.08, rate, 9 + k);
    burst.forEach((x, i) => {
      input[Math.round(seconds * rate) + i] += x * Math.min(1, i / 96) * (1 - i / burst.length);
    });
  }
  for (const tempoPercent of [60, 85, 120, 180]) {
    const { output } = await run([input], rate, { tempoPercent });
    const onsets: number[] = [];
    const piece = 0.002 * rate;
    let quietFor = 1;
    for (let i = 0; i + piece <= output[0].length; i += piece) {
      const loud = levelDb(output[0].subarray(i, i + piece)) > -32;
      if (loud && quietFor > 20) onsets.push(i / rate);
      quietFor = loud ? 0 : quietFor + 1;
    }
    expect(onsets.length).toBe(bursts.length);
    for (const [k, seconds] of bursts.entries())
      expect(Math.abs(onsets[k] - (100 * seconds) / tempoPercent)).toBeLessThan(0.02);
  }
});

it('the level stays within half a LU', async () => {
  const rate = 24_000;
  const voice = mixed(babble(10, rate), noise(0.0005, 10, rate));
  const loudness = (samples: Float32Array) => {
    const meter = new LoudnessMeter({ sampleRateHz: rate, channels: 1 });
    meter.hear([samples]);
    return meter.conclude().integratedLufs;
  };
  for (const settings of [{ tempoPercent: 75 }, { tempoPercent: 140 }, { pitchSemitones: 4 }, { pitchSemitones: -4 }]) {
    const { output } = await run([voice], rate, settings);
    expect(Math.abs(loudness(output[0]) - loudness(voice))).toBeLessThan(0.5);
  }
});

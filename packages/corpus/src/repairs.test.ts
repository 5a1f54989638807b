import { processBlock } from '@tonos/core/testing';
import { add, booth, CORPUS_VOICES, clean, narrated, placed } from './index.ts';

/** Repairs on speech with faults planted at known places. */

const RATE = 44100;

const energy = (samples: Float32Array, from: number, to: number): number => {
  let sum = 0;
  for (let i = from; i < to; i++) sum += samples[i] * samples[i];
  return sum;
};
const db = (power: number): number => 10 * Math.log10(power + 1e-20);
const difference = (a: Float32Array, b: Float32Array): Float32Array => a.map((x, i) => x - b[i]);

async function through(kind: string, samples: Float32Array, settings: Record<string, unknown> = {}) {
  const { output, reports } = await processBlock([{ kind, settings }], [samples], RATE);
  return { output: output[0] as Float32Array, findings: reports[0].findings };
}

describe('S19: hum under a voice', () => {
  /** Ten lines, the mains wandering by 0.1 Hz and back in a minute. */
  function wanderingHum(frames: number, driftHz: number): { lines: Float32Array[]; sum: Float32Array } {
    const sizes = [1, 0.5, 0.9, 0.4, 0.7, 0.3, 0.5, 0.25, 0.35, 0.2].map((size) => 0.003 * size);
    const lines = sizes.map(() => new Float32Array(frames));
    let phase = 0.4;
    for (let i = 0; i < frames; i++) {
      phase += (2 * Math.PI * (50.02 + driftHz * Math.sin((2 * Math.PI * i) / RATE / 60))) / RATE;
      for (let n = 1; n <= 10; n++) lines[n - 1][i] = sizes[n - 1] * Math.sin(n * phase + n);
    }
    return { lines, sum: add(new Float32Array(frames), ...lines) };
  }

  /** How strong a line of known course is in a signal, by correlation over each second. */
  function strength(samples: Float32Array, line: Float32Array): number {
    let [sum, seconds] = [0, 0];
    for (let at = RATE; at + RATE < samples.length - RATE; at += RATE) {
      let [own, both] = [0, 0];
      for (let i = at; i < at + RATE; i++) {
        own += line[i] * line[i];
        both += line[i] * samples[i];
      }
      sum += both / own;
      seconds++;
    }
    return sum / seconds;
  }

  it.each([
    ['slt', 0],
    ['rms', 0.1],
    ['awb', 0.1],
  ] as const)(
    '%s: all ten lines fall by 25 dB or more while it drifts by %d Hz, and the voice stays',
    async (voice, drift) => {
      const { samples } = await narrated(RATE, { sentences: 12, voice });
      const dry = add(samples, booth(samples.length, RATE, -68, 3));
      const { lines, sum } = wanderingHum(dry.length, drift);
      const { output, findings } = await through('hum-removal', add(dry.slice(), sum));
      expect(findings.lines as unknown[]).toHaveLength(10);
      const left = difference(output, dry);
      for (const line of lines) expect(20 * Math.log10(Math.abs(strength(left, line)) + 1e-9)).toBeLessThan(-25);
      // the voice itself is what it was: what is left beside it is what is left of the hum
      expect(db(energy(left, RATE, left.length - RATE)) - db(energy(sum, RATE, left.length - RATE))).toBeLessThan(-20);
    },
  );

  it.each(CORPUS_VOICES)('changes nothing of a clean voice: %s', async (voice) => {
    const dry = await clean(RATE, { voice, sentences: 6 });
    const { output, findings } = await through('hum-removal', dry);
    expect(findings.note).toMatch(/No hum/);
    expect(output.every((x, i) => x === dry[i])).toBe(true);
  });
});

describe('S20: mouth clicks', () => {
  /** A smack: a burst that rings at one frequency and decays, `ms` long. */
  const smack = (ms: number, hz: number, level: number): Float32Array =>
    Float32Array.from({ length: Math.round((ms * RATE) / 1000) }, (_, i) => {
      const t = i / RATE;
      return level * Math.exp((-6.9 * t) / (ms / 1000)) * Math.sin(2 * Math.PI * hz * t + 0.3) * Math.min(1, i / 10);
    });

  it.each(CORPUS_VOICES)('fall by 15 dB or more in every pause: %s', async (voice) => {
    const { samples, spans } = await narrated(RATE, { sentences: 7, voice, pauseSeconds: 0.8 });
    const dry = add(samples, booth(samples.length, RATE, -68, 9));
    const spoiled = dry.slice();
    const places = spans.slice(0, -1).map(({ endSeconds }, k) => {
      const at = Math.round((endSeconds + 0.42) * RATE);
      placed(spoiled, smack([3, 5, 8, 12, 6, 4][k], [1600, 2500, 4000, 5800, 3000, 2000][k], 0.03 + 0.01 * k), at);
      return at;
    });
    const { output } = await through('declick', spoiled);
    for (const at of places) {
      const [from, to] = [at, at + Math.round(0.012 * RATE)];
      const room = energy(dry, from, to);
      const over = (signal: Float32Array) => db(Math.max(0.2 * room, energy(signal, from, to) - room));
      expect(over(spoiled) - over(output)).toBeGreaterThan(15);
    }
  });

  it.each(CORPUS_VOICES)('no consonant of a clean voice is harmed: %s', async (voice) => {
    for (const floorDb of [-60, -75]) {
      const dry = await clean(RATE, { voice, sentences: 6, floorDb });
      const { output } = await through('declick', dry);
      expect(db(energy(difference(output, dry), 0, dry.length)) - db(energy(dry, 0, dry.length))).toBeLessThan(-50);
    }
  });

  it('leaves what it is not asked for', async () => {
    const dry = await clean(RATE, { sentences: 3 });
    const spoiled = placed(dry.slice(), smack(8, 3000, 0.05), Math.round(0.4 * RATE));
    const { output } = await through('declick', spoiled, { clicks: 'digital' });
    const part = (samples: Float32Array) => energy(samples, Math.round(0.4 * RATE), Math.round(0.41 * RATE));
    expect(db(part(output)) - db(part(spoiled))).toBeGreaterThan(-3);
  });
});

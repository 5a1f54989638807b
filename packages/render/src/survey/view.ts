import {
  BASE_FRAMES,
  type Block,
  largestMark,
  PEAK_MARKS_PER_SECOND,
  PYRAMID_FULL_SCALE,
  RealFft,
  SPECTROGRAM,
  spectrogramHz,
  summarise,
} from '@tonos/core';
import type { SurveyReader } from './survey-file.ts';

/** Samples of any stretch of a recording: from `from`, `frames` of them (fewer at the end). */
export type ReadFrames = (from: number, frames: number) => Promise<Block>;

export interface ViewRange {
  fromSeconds: number;
  toSeconds: number;
  columns: number;
}

export interface View {
  fromSeconds: number;
  toSeconds: number;
  /** Of each channel, by column: smallest and largest sample and RMS, full scale 1. */
  channels: { low: number[]; high: number[]; rms: number[] }[];
  /** Of each channel the samples themselves, where there are few. */
  samples: { firstSeconds: number; sampleRateHz: number; values: number[][] } | null;
  momentaryLufs: (number | null)[];
  shortTermLufs: (number | null)[];
  /** Of each column the largest true peak in dBTP; null under -6. */
  truePeaksDbtp: (number | null)[];
  /** Columns that hold a flat top. */
  flatTops: number[];
  /** Speech that reaches into the range; pauses narrower than a column are left out. */
  speech: { startSeconds: number; endSeconds: number }[];
}

/** Up to so many samples a column, they are drawn one by one. */
const SAMPLES_PER_COLUMN = 0.5;

/** What a picture of a stretch shows, in as many columns as it has pixels: the same work at any zoom. */
export async function viewOf(survey: SurveyReader, readFrames: ReadFrames, range: ViewRange): Promise<View> {
  const { sampleRateHz, frames, levels, channels } = survey.header;
  const from = Math.max(0, range.fromSeconds * sampleRateHz);
  const to = Math.min(frames, range.toSeconds * sampleRateHz);
  const perColumn = ((range.toSeconds - range.fromSeconds) * sampleRateHz) / range.columns;
  const edge = (column: number) => range.fromSeconds * sampleRateHz + column * perColumn;
  const shape = { fromSeconds: range.fromSeconds, toSeconds: range.toSeconds };
  const speech = joined(
    survey.header.speech.filter(
      ({ startSeconds, endSeconds }) => endSeconds > range.fromSeconds && startSeconds < range.toSeconds,
    ),
    (range.toSeconds - range.fromSeconds) / range.columns,
  );
  const lines = { ...(await loudnessLines(survey, range)), ...(await peaksOf(survey, range)), speech };
  const first = Math.floor(from);
  if (perColumn < BASE_FRAMES) {
    const block = await readFrames(first, Math.max(0, Math.ceil(to) - first));
    const samples =
      perColumn <= SAMPLES_PER_COLUMN
        ? { firstSeconds: first / sampleRateHz, sampleRateHz, values: block.map((channel) => Array.from(channel)) }
        : null;
    const drawn = block.map((channel) =>
      columnsOf(range.columns, (column) => stretchOf(channel, edge(column) - first, edge(column + 1) - first)),
    );
    return { ...shape, channels: drawn, samples, ...lines };
  }
  const level = levels.findLastIndex(({ framesPerColumn }) => framesPerColumn <= perColumn);
  const { framesPerColumn, columns } = levels[level];
  const start = Math.floor(from / framesPerColumn);
  const end = Math.min(columns, Math.ceil(to / framesPerColumn));
  const drawn = await Promise.all(
    Array.from({ length: channels }, async (_, c) => {
      const held = await survey.columns(level, c, start, end);
      return columnsOf(range.columns, (column) => {
        const a = Math.floor(edge(column) / framesPerColumn) - start;
        const b = Math.max(a + 1, Math.floor(edge(column + 1) / framesPerColumn) - start);
        if (b <= 0 || a >= held.low.length) return undefined;
        const { low, high, rms } = summarise(held, Math.max(0, a), Math.min(held.low.length, b));
        return { low: low / PYRAMID_FULL_SCALE, high: high / PYRAMID_FULL_SCALE, rms: rms / PYRAMID_FULL_SCALE };
      });
    }),
  );
  return { ...shape, channels: drawn, samples: null, ...lines };
}

/** Spans with no more than `gapSeconds` between them become one: nobody sees less than a column. */
function joined(spans: View['speech'], gapSeconds: number): View['speech'] {
  const wide: View['speech'] = [];
  for (const { startSeconds, endSeconds } of spans) {
    const last = wide.at(-1);
    if (last && startSeconds - last.endSeconds < gapSeconds) last.endSeconds = endSeconds;
    else wide.push({ startSeconds, endSeconds });
  }
  return wide;
}

type Column = { low: number; high: number; rms: number } | undefined;

/** Columns outside the recording are zero. */
function columnsOf(count: number, columnAt: (column: number) => Column): View['channels'][number] {
  const round = (x: number) => Math.round(x * 1e5) / 1e5;
  const made = Array.from({ length: count }, (_, column) => columnAt(column) ?? { low: 0, high: 0, rms: 0 });
  return {
    low: made.map(({ low }) => round(low)),
    high: made.map(({ high }) => round(high)),
    rms: made.map(({ rms }) => round(rms)),
  };
}

function stretchOf(samples: Float32Array, from: number, to: number): Column {
  const a = Math.max(0, Math.floor(from));
  const b = Math.min(samples.length, Math.max(a + 1, Math.floor(to)));
  if (a >= b) return undefined;
  let low = samples[a];
  let high = samples[a];
  let square = 0;
  for (let i = a; i < b; i++) {
    if (samples[i] < low) low = samples[i];
    if (samples[i] > high) high = samples[i];
    square += samples[i] * samples[i];
  }
  return { low, high, rms: Math.sqrt(square / (b - a)) };
}

/** The seconds at which the first value of each line ends. */
const FIRST_VALUE_SECONDS = { momentary: 0.4, shortTerm: 3 } as const;

async function loudnessLines(
  survey: SurveyReader,
  range: ViewRange,
): Promise<Pick<View, 'momentaryLufs' | 'shortTermLufs'>> {
  const line = async (name: 'momentary' | 'shortTerm') => {
    const count = survey.header[name];
    const indexAt = (seconds: number) => Math.round((seconds - FIRST_VALUE_SECONDS[name]) * 10);
    const from = Math.max(0, indexAt(range.fromSeconds));
    const to = Math.min(count, indexAt(range.toSeconds) + 2);
    const values = await survey.loudness(name, from, to);
    const width = (range.toSeconds - range.fromSeconds) / range.columns;
    return Array.from({ length: range.columns }, (_, column) => {
      const start = range.fromSeconds + column * width;
      const a = indexAt(start) - from;
      const b = Math.max(a + 1, indexAt(start + width) - from);
      let most = Number.NEGATIVE_INFINITY;
      for (let i = Math.max(0, a); i < Math.min(values.length, b); i++) if (values[i] > most) most = values[i];
      return Number.isFinite(most) ? Math.round(most * 100) / 100 : null;
    });
  };
  return { momentaryLufs: await line('momentary'), shortTermLufs: await line('shortTerm') };
}

/** The largest mark of the tenths that each column touches. */
async function peaksOf(survey: SurveyReader, range: ViewRange): Promise<Pick<View, 'truePeaksDbtp' | 'flatTops'>> {
  const tenthAt = (column: number) =>
    (range.fromSeconds + (column * (range.toSeconds - range.fromSeconds)) / range.columns) * PEAK_MARKS_PER_SECOND;
  const first = Math.max(0, Math.floor(tenthAt(0)));
  const marks = await survey.peakMarks(first, Math.ceil(tenthAt(range.columns)));
  const columns = Array.from({ length: range.columns }, (_, column) => {
    const from = Math.max(0, Math.floor(tenthAt(column)) - first);
    return largestMark(marks.subarray(from, Math.max(from + 1, Math.ceil(tenthAt(column + 1)) - first)));
  });
  return {
    truePeaksDbtp: columns.map(({ peakDbtp }) => peakDbtp),
    flatTops: columns.flatMap(({ hasFlatTop }, column) => (hasFlatTop ? [column] : [])),
  };
}

/**
 * One spectrum a column, wherever the column lies: the work does not grow with the length shown. Rows go from the lowest
 * frequency to the highest, evenly in pitch. @returns columns x rows bytes, column by column, 0 at the bottom level, 255 at the top
 */
export async function spectrogramOf(
  { sampleRateHz, frames }: { sampleRateHz: number; frames: number },
  readFrames: ReadFrames,
  range: ViewRange,
  rows: number,
): Promise<Uint8Array> {
  const size = 2 ** Math.round(Math.log2(sampleRateHz * 0.043));
  const fft = new RealFft(size);
  const [samples, re, im] = [new Float32Array(size), new Float32Array(fft.bins), new Float32Array(fft.bins)];
  const { bottomDb, topDb } = SPECTROGRAM;
  const binAt = (row: number) => (spectrogramHz(row / rows, sampleRateHz) * size) / sampleRateHz;
  const out = new Uint8Array(range.columns * rows);
  const width = (range.toSeconds - range.fromSeconds) / range.columns;
  // a full-scale sine is 0 dB: its Hann-windowed bin is size / 4
  const scale = 16 / (size * size);
  for (let column = 0; column < range.columns; column++) {
    const centre = Math.round((range.fromSeconds + (column + 0.5) * width) * sampleRateHz);
    const first = Math.max(0, centre - size / 2);
    if (first >= frames) continue;
    const block = await readFrames(first, size);
    samples.fill(0);
    for (const channel of block) for (let i = 0; i < channel.length; i++) samples[i] += channel[i] / block.length;
    fft.forward(samples, re, im, 'hann');
    for (let row = 0; row < rows; row++) {
      const a = binAt(row);
      const b = binAt(row + 1);
      let power = 0;
      if (b - a < 1) {
        // below the resolution: between two bins
        const k = Math.min(fft.bins - 2, Math.floor(a));
        const share = a - k;
        power = (1 - share) * (re[k] ** 2 + im[k] ** 2) + share * (re[k + 1] ** 2 + im[k + 1] ** 2);
      } else
        for (let k = Math.floor(a); k < Math.min(fft.bins, b); k++) power = Math.max(power, re[k] ** 2 + im[k] ** 2);
      const db = 10 * Math.log10(power * scale + 1e-20);
      out[column * rows + row] = Math.max(0, Math.min(255, Math.round((255 * (db - bottomDb)) / (topDb - bottomDb))));
    }
  }
  return out;
}

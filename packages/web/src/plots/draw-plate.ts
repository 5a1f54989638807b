import type { RecordingView } from '@tonos/contract';
import { shareAt, type TimeRange } from './time-axis.ts';

/** Drawing data on the canvases of a plate: data in, pixels out. Data of another range than the one shown is stretched to its place. */

export interface Ink {
  wave: string;
  rms: string;
  rule: string;
  line: string;
  faint: string;
  window: string;
  over: string;
  spectrum: [red: number, green: number, blue: number];
}

export interface Surface {
  context: CanvasRenderingContext2D;
  width: number;
  height: number;
  range: TimeRange;
}

export const WAVE_TOP = 1.02;

/** Each channel in its own band: from smallest to largest sample, the RMS darker; single samples as a line with points. */
export function drawChannels({ context, width, height, range }: Surface, view: RecordingView, ink: Ink): void {
  context.clearRect(0, 0, width, height);
  const bands = view.channels.length;
  const band = height / bands;
  view.channels.forEach(({ low, high, rms }, c) => {
    const middle = band * (c + 0.5);
    const scale = band / 2 / WAVE_TOP;
    const y = (value: number) => middle - value * scale;
    context.fillStyle = ink.rule;
    context.fillRect(0, Math.round(middle), width, 1);
    if (view.samples) {
      const { firstSeconds, sampleRateHz, values } = view.samples;
      drawSamples(context, values[c], (i) => shareAt(range, firstSeconds + i / sampleRateHz) * width, y, ink);
      return;
    }
    const columns = low.length;
    for (let i = 0; i < columns; i++) {
      const seconds = view.fromSeconds + (i / columns) * (view.toSeconds - view.fromSeconds);
      const x = shareAt(range, seconds) * width;
      const next = shareAt(range, seconds + (view.toSeconds - view.fromSeconds) / columns) * width;
      if (next < 0 || x > width) continue;
      const wide = Math.max(1, next - x);
      context.fillStyle = ink.wave;
      context.fillRect(x, y(high[i]), wide, Math.max(1, y(low[i]) - y(high[i])));
      context.fillStyle = ink.rms;
      context.fillRect(x, y(rms[i]), wide, y(-rms[i]) - y(rms[i]));
    }
  });
}

/** Over the wave: a bar where the true peak is over the limit, a full square where a top is flat. */
export function drawPeaks({ context, width, range }: Surface, view: RecordingView, limitDbtp: number, ink: Ink): void {
  const { truePeaksDbtp, flatTops } = view;
  const seconds = (view.toSeconds - view.fromSeconds) / truePeaksDbtp.length;
  const mark = (column: number, top: number, height: number) => {
    const x = shareAt(range, view.fromSeconds + column * seconds) * width;
    const end = shareAt(range, view.fromSeconds + (column + 1) * seconds) * width;
    context.fillRect(x, top, Math.max(2, end - x), height);
  };
  context.fillStyle = ink.over;
  truePeaksDbtp.forEach((peak, column) => {
    if (peak !== null && peak > limitDbtp) mark(column, 0, 3);
  });
  for (const column of flatTops) mark(column, 5, 5);
}

/** A bar under the wave wherever somebody speaks. */
export function drawSpeech({ context, width, height, range }: Surface, view: RecordingView, ink: Ink): void {
  context.fillStyle = ink.rms;
  for (const { startSeconds, endSeconds } of view.speech) {
    const x = shareAt(range, startSeconds) * width;
    context.fillRect(x, height - 5, Math.max(1, shareAt(range, endSeconds) * width - x), 3);
  }
}

function drawSamples(
  context: CanvasRenderingContext2D,
  samples: readonly number[],
  x: (index: number) => number,
  y: (value: number) => number,
  ink: Ink,
): void {
  context.strokeStyle = ink.wave;
  context.fillStyle = ink.rms;
  context.beginPath();
  samples.forEach((value, i) => {
    context.lineTo(x(i), y(value));
  });
  context.stroke();
  if (x(1) - x(0) < 6) return;
  samples.forEach((value, i) => {
    context.fillRect(x(i) - 2, y(value) - 2, 4, 4);
  });
}

export const LOUDNESS = { topLufs: -5, bottomLufs: -55 } as const;

export const loudnessY = (lufs: number, height: number): number =>
  ((LOUDNESS.topLufs - lufs) / (LOUDNESS.topLufs - LOUDNESS.bottomLufs)) * height;

/** The loudness of 400 ms thin, of 3 s strong, and the target's window drawn through. */
export function drawLoudness(
  { context, width, height, range }: Surface,
  view: RecordingView,
  window: { min: number | null; max: number | null } | undefined,
  ink: Ink,
): void {
  context.clearRect(0, 0, width, height);
  if (window) {
    const top = loudnessY(window.max ?? LOUDNESS.topLufs, height);
    context.fillStyle = ink.window;
    context.fillRect(0, top, width, loudnessY(window.min ?? LOUDNESS.bottomLufs, height) - top);
  }
  context.fillStyle = ink.rule;
  for (let lufs = -10; lufs > LOUDNESS.bottomLufs; lufs -= 10)
    context.fillRect(0, Math.round(loudnessY(lufs, height)), width, 1);
  drawLine(view.momentaryLufs, ink.faint, 1);
  drawLine(view.shortTermLufs, ink.line, 1.8);

  function drawLine(values: (number | null)[], colour: string, thickness: number) {
    context.strokeStyle = colour;
    context.lineWidth = thickness;
    context.beginPath();
    let drawing = false;
    values.forEach((value, i) => {
      if (value === null) {
        drawing = false;
        return;
      }
      const seconds = view.fromSeconds + ((i + 0.5) / values.length) * (view.toSeconds - view.fromSeconds);
      const x = shareAt(range, seconds) * width;
      const y = Math.min(height, loudnessY(value, height));
      if (drawing) context.lineTo(x, y);
      else context.moveTo(x, y);
      drawing = true;
    });
    context.stroke();
  }
}

export interface Spectra extends TimeRange {
  columns: number;
  rows: number;
  /** Column by column, from the lowest frequency up. */
  values: Uint8Array;
}

/** How much ink a level gets: a curve that leaves the room light and the voice dark. */
const INK_OF = Uint8ClampedArray.from({ length: 256 }, (_, value) => 255 * (value / 255) ** 1.6);

/** Pictures of spectra by the ink they are drawn in: while a plate is zoomed and scrolled, the same one is drawn again and again. */
const pictures = new WeakMap<Spectra, { ink: string; picture: OffscreenCanvas }>();

function pictureOf(spectra: Spectra, [red, green, blue]: Ink['spectrum']): OffscreenCanvas {
  const ink = `${red} ${green} ${blue}`;
  const known = pictures.get(spectra);
  if (known?.ink === ink) return known.picture;
  const { columns, rows, values } = spectra;
  const image = new ImageData(columns, rows);
  for (let column = 0; column < columns; column++) {
    for (let row = 0; row < rows; row++) {
      const at = 4 * ((rows - 1 - row) * columns + column);
      image.data[at] = red;
      image.data[at + 1] = green;
      image.data[at + 2] = blue;
      image.data[at + 3] = INK_OF[values[column * rows + row]];
    }
  }
  const picture = new OffscreenCanvas(columns, rows);
  picture.getContext('2d')!.putImageData(image, 0, 0);
  pictures.set(spectra, { ink, picture });
  return picture;
}

/** Ink on paper: the louder, the darker. */
export function drawSpectrogram(
  { context, width, height, range }: Surface,
  spectra: Spectra,
  ink: Ink['spectrum'],
): void {
  context.clearRect(0, 0, width, height);
  const x = shareAt(range, spectra.fromSeconds) * width;
  context.drawImage(pictureOf(spectra, ink), x, 0, shareAt(range, spectra.toSeconds) * width - x, height);
}

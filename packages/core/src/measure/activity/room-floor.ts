import { type ActivityFrames, BANDS, FRAMES_PER_SECOND, STEP_DB } from './activity-frames.ts';

/**
 * The floor of every band at every moment. A room shows itself as a plateau: in a window of 8 s the quietest frames lie close
 * together, which those of a voice without pauses do not. Where a fan starts in the middle of a recording the plateau moves, and the floor with it;
 * where no plateau is to be seen, those before and after serve, and where there is none at all, the quietest frames.
 */
const WINDOW = 8 * FRAMES_PER_SECOND;
const HOP = FRAMES_PER_SECOND;
/** A plateau: from the third to the twelfth hundredth of the mean band level it rises by less than this. */
const PLATEAU_DB = 2.5;
const LOW_SHARE = 0.03;
const HIGH_SHARE = 0.12;
const FLOOR_SHARE = 0.1;
const QUIETEST_SHARE = 0.02;
/** A window needs a second of sound. */
const LEAST_SOUNDING = FRAMES_PER_SECOND;
/** No floor is taken to lie below -110 dB: dither is not speech. */
const LEAST_FLOOR = 50;
/** Mean levels are told apart by a fifth of a band's step. */
const FINER = 5;

export interface RoomFloor {
  /** Whether the room was heard by itself anywhere. */
  hasPlateau: boolean;
  /** Whole steps of band level at a frame, by band. */
  at(frame: number): Uint8Array;
}

export function roomFloor(frames: ActivityFrames): RoomFloor {
  const windows = windowsOf(frames);
  const plateaus = windows.filter(({ isPlateau }) => isPlateau);
  if (!plateaus.length) {
    const lowest = floorOver(frames, QUIETEST_SHARE);
    return { hasPlateau: false, at: () => lowest };
  }
  return { hasPlateau: true, at: floorBySecond(windows, plateaus) };
}

interface Window {
  isPlateau: boolean;
  floor: Uint8Array;
  level: number;
}

/** Windows that begin every second; one over the whole where it is shorter. */
function windowsOf(frames: ActivityFrames): Window[] {
  const { count, voiceBands } = frames;
  const histograms = Array.from({ length: voiceBands }, () => new Uint32Array(256));
  const means = new Uint32Array(256 * FINER);
  const smooth = smoothedMeans(frames);
  let sounding = 0;
  const change = (i: number, by: 1 | -1) => {
    if (!frames.sounds(i)) return;
    sounding += by;
    means[smooth[i]] += by;
    for (let b = 0; b < voiceBands; b++) histograms[b][frames.bands[i * BANDS + b]] += by;
  };
  const windows: Window[] = [];
  let [from, to] = [0, 0];
  for (let start = 0; start === 0 || start + WINDOW <= count + HOP - 1; start += HOP) {
    const end = Math.min(count, start + WINDOW);
    for (; to < end; to++) change(to, 1);
    for (; from < start; from++) change(from, -1);
    const floor = Uint8Array.from(histograms, (one) => Math.max(LEAST_FLOOR, levelAt(one, FLOOR_SHARE * sounding)));
    const rise = levelAt(means, HIGH_SHARE * sounding) - levelAt(means, LOW_SHARE * sounding);
    const isPlateau = sounding >= Math.min(LEAST_SOUNDING, 0.8 * count) && rise < (PLATEAU_DB / STEP_DB) * FINER;
    windows.push({ isPlateau, floor, level: floor.reduce((sum, step) => sum + step, 0) });
  }
  return windows;
}

/** Mean band level of five frames, in fifths of a step. */
function smoothedMeans({ count, bands, voiceBands }: ActivityFrames): Uint16Array {
  const sums = new Uint16Array(count);
  for (let i = 0; i < count; i++) {
    let sum = 0;
    for (let b = 0; b < voiceBands; b++) sum += bands[i * BANDS + b];
    sums[i] = sum;
  }
  return sums.map((_, i) => {
    const [from, to] = [Math.max(0, i - 2), Math.min(count - 1, i + 2)];
    let sum = 0;
    for (let k = from; k <= to; k++) sum += sums[k];
    return Math.min(256 * FINER - 1, Math.round((sum * FINER) / voiceBands / (to - from + 1)));
  });
}

/** The lowest class that more than `count` entries reach down to. */
function levelAt(histogram: Uint32Array, count: number): number {
  let level = 0;
  for (let seen = 0; level < histogram.length - 1 && seen + histogram[level] <= count; level++)
    seen += histogram[level];
  return level;
}

function floorOver(frames: ActivityFrames, share: number): Uint8Array {
  const { voiceBands } = frames;
  return Uint8Array.from({ length: voiceBands }, (_, b) => {
    const histogram = new Uint32Array(256);
    let sounding = 0;
    for (let i = 0; i < frames.count; i++) {
      if (!frames.sounds(i)) continue;
      sounding++;
      histogram[frames.bands[i * BANDS + b]]++;
    }
    return Math.max(LEAST_FLOOR, levelAt(histogram, share * sounding));
  });
}

/** Of the plateaus that a second lies in the highest: the one after a change. Elsewhere the lower of its neighbours. */
function floorBySecond(windows: readonly Window[], plateaus: readonly Window[]): (frame: number) => Uint8Array {
  const span = WINDOW / HOP;
  const seconds = windows.length + span - 1;
  const covering = Array.from({ length: seconds }, (_, second) => {
    let best: Window | undefined;
    for (let w = Math.max(0, second - span + 1); w <= Math.min(second, windows.length - 1); w++)
      if (windows[w].isPlateau && (!best || windows[w].level > best.level)) best = windows[w];
    return best;
  });
  const before: Window[] = [];
  covering.forEach((one, second) => {
    before[second] = one ?? before[second - 1] ?? plateaus[0];
  });
  const floors: Uint8Array[] = [];
  let after = plateaus[plateaus.length - 1];
  for (let second = seconds - 1; second >= 0; second--) {
    after = covering[second] ?? after;
    floors[second] = (before[second].level < after.level ? before[second] : after).floor;
  }
  return (frame) => floors[Math.min(seconds - 1, Math.floor(frame / HOP))];
}

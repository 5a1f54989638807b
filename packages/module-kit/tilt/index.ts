// A gentle tilt of the spectrum: highs up by half of it and lows down by as much, or the other way round.
import { channels, makeRoom, placeOf } from '../host/sound';

const TILT = 0;
/** Far below what float32 holds. */
const SILENT: f64 = 1e-60;

let sampleRate: f64 = 48000;
let tiltDb: f64 = 0;
let pivotHz: f64 = 1000;

/** What the filter is, and what it goes to over 20 ms: y = b0 x + b1 x' - a1 y'. */
let b0: f64 = 1;
let b1: f64 = 0;
let a1: f64 = 0;
let b0To: f64 = 1;
let b1To: f64 = 0;
let a1To: f64 = 0;
let left: i32 = 0;
let hasBegun = false;

/** Of each channel: the sample before, as it came in and as it went out. */
const before = new StaticArray<f64>(16);

export function prepare(sampleRateHz: f64, channelCount: i32, frames: i32): i32 {
  sampleRate = sampleRateHz;
  makeRoom(channelCount, frames);
  return 0;
}

export function input(channel: i32): usize {
  return placeOf(channel);
}

export function set(index: i32, value: f64): void {
  if (index === TILT) tiltDb = value;
  else pivotHz = value;
  design();
}

/**
 * H(s) = (A s + w) / (s + A w), A = 10^(tilt/40): 1/A far below the pivot, A far above it, 1 at the pivot. By the bilinear transform,
 * warped so that the pivot stays in its place.
 */
function design(): void {
  const a = 10 ** (tiltDb / 40);
  const w = Math.tan((Math.PI * min(pivotHz, 0.45 * sampleRate)) / sampleRate);
  const a0 = 1 + a * w;
  b0To = (a + w) / a0;
  b1To = (w - a) / a0;
  a1To = (a * w - 1) / a0;
  left = hasBegun ? <i32>(0.02 * sampleRate) : 0;
  if (hasBegun) return;
  b0 = b0To;
  b1 = b1To;
  a1 = a1To;
}

export function process(frames: i32): void {
  hasBegun = true;
  let done = 0;
  while (done < frames && left > 0) {
    const share = 1 / <f64>left;
    b0 += share * (b0To - b0);
    b1 += share * (b1To - b1);
    a1 += share * (a1To - a1);
    left--;
    filter(done, done + 1);
    done++;
  }
  filter(done, frames);
}

function filter(from: i32, to: i32): void {
  for (let c = 0; c < channels(); c++) {
    let x1 = before[2 * c];
    let y1 = before[2 * c + 1];
    const end = placeOf(c) + ((<usize>to) << 2);
    for (let at = placeOf(c) + ((<usize>from) << 2); at < end; at += 4) {
      const x = <f64>load<f32>(at);
      y1 = b0 * x + b1 * x1 - a1 * y1;
      // what has died away must not slow the sums down
      if (abs(y1) < SILENT) y1 = 0;
      x1 = x;
      store<f32>(at, <f32>y1);
    }
    before[2 * c] = x1;
    before[2 * c + 1] = y1;
  }
}

// A module to begin with: it turns everything up or down. What each export is for is written in docs/modules.md.
import { channels, makeRoom, placeOf } from '../host/sound';

let sampleRate: f64 = 48000;
let gain: f32 = 1;
let wanted: f32 = 1;
/** Until the first block the setting is taken as it is; after that it is gone to within 20 ms. */
let hasBegun = false;

/** @returns 0 where it can work so, anything else where it can't */
export function prepare(sampleRateHz: f64, channelCount: i32, frames: i32): i32 {
  sampleRate = sampleRateHz;
  makeRoom(channelCount, frames);
  return 0;
}

/** Where the host writes a channel's samples, and reads them again. */
export function input(channel: i32): usize {
  return placeOf(channel);
}

/** A setting, by its place in the manifest. */
export function set(_index: i32, value: f64): void {
  wanted = <f32>(10 ** (value / 20));
}

/** Changes a block in place. */
export function process(frames: i32): void {
  if (!hasBegun) gain = wanted;
  hasBegun = true;
  const step = <f32>(1 / (0.02 * sampleRate));
  for (let i = 0; i < frames; i++) {
    if (gain !== wanted) gain = gain < wanted ? min(wanted, gain + step) : max(wanted, gain - step);
    for (let c = 0; c < channels(); c++) {
      const at = placeOf(c) + ((<usize>i) << 2);
      store<f32>(at, gain * load<f32>(at));
    }
  }
}

// A module that does what none may, for tests: on the tenth block that it is given.
import { makeRoom, placeOf } from '../host/sound';

const NEVER_COMES_BACK = 1;
const BREAKS_OFF = 2;
const MAKES_NO_NUMBERS = 3;

let how: i32 = 0;
let blocks: i32 = 0;

export function prepare(_sampleRateHz: f64, channelCount: i32, frames: i32): i32 {
  makeRoom(channelCount, frames);
  return 0;
}

export function input(channel: i32): usize {
  return placeOf(channel);
}

export function set(_index: i32, value: f64): void {
  how = <i32>value;
}

export function process(_frames: i32): void {
  if (++blocks < 10) return;
  while (how === NEVER_COMES_BACK) blocks++;
  if (how === BREAKS_OFF) unreachable();
  if (how === MAKES_NO_NUMBERS) store<f32>(placeOf(0), NaN);
}

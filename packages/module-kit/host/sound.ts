// Where the host lays the sound: planar float32, each channel in a place of its own.

const places: StaticArray<usize> = new StaticArray<usize>(8);
let channelCount: i32 = 0;

/** Makes room; call it from `prepare`. @param frames the longest block that comes */
export function makeRoom(channels: i32, frames: i32): void {
  channelCount = channels;
  for (let c = 0; c < channels; c++) places[c] = heap.alloc(<usize>frames * 4);
}

export function channels(): i32 {
  return channelCount;
}

/** The address of a channel's first sample. */
export function placeOf(channel: i32): usize {
  return places[channel];
}

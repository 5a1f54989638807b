import { type RingMemory, SharedRing } from './shared-ring.ts';

/** The sound thread: reads the ring, a quantum of 128 frames at a time, and does nothing else. */

// the library of the DOM does not know the worklet's own scope
declare class AudioWorkletProcessor {}
declare function registerProcessor(
  name: string,
  processor: new (options: { processorOptions: RingMemory }) => AudioWorkletProcessor,
): void;

class RingReader extends AudioWorkletProcessor {
  private readonly ring: SharedRing;
  private sounding = false;

  constructor({ processorOptions }: { processorOptions: RingMemory }) {
    super();
    this.ring = new SharedRing(processorOptions);
  }

  process(_: Float32Array[][], [[left, right]]: Float32Array[][]): boolean {
    this.sounding = this.ring.readQuantum(left, right, this.sounding);
    return true;
  }
}

registerProcessor('tonos-ring', RingReader);

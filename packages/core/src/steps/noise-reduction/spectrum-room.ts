import { type Kernels, kernels, roomFor, tableOf } from '@tonos/kernels';
import { RISE_TABLE } from './log-spectral-gain.ts';

/** Where the arrays of a spectrum lie for the kernel while it runs, shared by all who work on spectra in a thread. */
interface SpectrumRoom {
  kernel: Kernels;
  bins: number;
  slots: readonly number[];
  /** RISE_TABLE. */
  table: number;
}

const SLOTS = 6;
let room: SpectrumRoom | undefined;

/** Room for spectra of so many bins. */
export function spectrumRoom(bins: number): SpectrumRoom {
  if (!room || room.bins < bins) {
    const table = room?.table ?? tableOf(RISE_TABLE.values);
    room = { kernel: kernels(), bins, slots: Array.from({ length: SLOTS }, () => roomFor(bins)), table };
  }
  return room;
}

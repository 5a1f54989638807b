import { type Kernels, kernels, roomFor, tableOf } from '@tonos/kernels';
import { RISE_TABLE } from './log-spectral-gain.ts';

/** Where the arrays of a spectrum lie for the kernel while it runs, shared by all who work on spectra in a thread. */
interface SpectrumRoom {
  kernel: Kernels;
  bins: number;
  slots: Readonly<Record<Slot, number>>;
  /** RISE_TABLE. */
  table: number;
}

const SLOTS = ['power', 'last', 'expected', 'sums', 'likely', 'before', 'gain'] as const;
type Slot = (typeof SLOTS)[number];

let room: SpectrumRoom | undefined;

/** Room for spectra of so many bins. */
export function spectrumRoom(bins: number): SpectrumRoom {
  if (!room || room.bins < bins) {
    const slots = Object.fromEntries(SLOTS.map((slot) => [slot, roomFor(bins)])) as Record<Slot, number>;
    const table = room?.table ?? tableOf(RISE_TABLE.values);
    room = { kernel: kernels(), bins, slots, table };
  }
  return room;
}

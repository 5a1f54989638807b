import type { Machines } from '@tonos/contract';

/** Tells machines that there is something to do. It carries no work: losing all that it said loses nothing. */
export interface Doorbell {
  /** Work may have come up. */
  ring(): void;
  state(): Machines['queue'];
  /** The name under which it rings; null where machines have to ask. */
  readonly queue: string | null;
  close(): Promise<void>;
}

/** Without a queue: threads of this process are told by themselves, and machines ask with every beat. */
export const noDoorbell: Doorbell = {
  ring: () => {},
  state: () => ({ kind: 'process', status: 'ready' }),
  queue: null,
  close: async () => {},
};

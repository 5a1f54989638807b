/** One thing that is timed: ours against a peer that does the same work, in the same run on the same machine. */
export interface Suite {
  name: string;
  /** What both are given, in a few words. */
  work: string;
  ours: Contestant;
  peer: Contestant;
}

interface Contestant {
  name: string;
  run(): void | Promise<void>;
}

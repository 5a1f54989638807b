import type { Suite } from './suite.ts';

export interface Comparison {
  name: string;
  work: string;
  ours: string;
  peer: string;
  /** Peer's time by ours, median of the rounds: above 1 we are faster. */
  ratio: number;
  /** Smallest and largest of the rounds. */
  spread: [number, number];
}

const seconds = async (run: () => void | Promise<void>): Promise<number> => {
  const start = performance.now();
  await run();
  return (performance.now() - start) / 1000;
};

/** Both take turns, so that a machine that grows busy slows both. The first round warms up and is not counted. */
export async function compare({ name, work, ours, peer }: Suite, rounds: number): Promise<Comparison> {
  const ratios: number[] = [];
  for (let round = 0; round <= rounds; round++) {
    const own = await seconds(() => ours.run());
    const others = await seconds(() => peer.run());
    if (round > 0) ratios.push(others / own);
  }
  ratios.sort((a, b) => a - b);
  return {
    name,
    work,
    ours: ours.name,
    peer: peer.name,
    ratio: ratios[Math.floor(ratios.length / 2)],
    spread: [ratios[0], ratios.at(-1)!],
  };
}

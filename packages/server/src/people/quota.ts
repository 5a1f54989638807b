import { caller } from '../http/caller.ts';
import { HttpProblem } from '../http/problems.ts';

const GIGABYTE = 1024 ** 3;
const inGigabytes = (bytes: number): string => (bytes / GIGABYTE).toFixed(bytes < 10 * GIGABYTE ? 1 : 0);

/** @param most bytes that each person may have sent; undefined: as much as there is room for */
export const quotaOf =
  (recordings: { bytesOf(personId: string): Promise<number> }, most: number | undefined) =>
  async (bytes: number): Promise<void> => {
    if (most === undefined) return;
    const sent = await recordings.bytesOf(caller().personId);
    if (sent + bytes <= most) return;
    throw new HttpProblem(
      413,
      'quota',
      `You have sent ${inGigabytes(sent)} of the ${inGigabytes(most)} GB that each person may send. Empty the trash of what is not needed, or ask an owner for more.`,
    );
  };

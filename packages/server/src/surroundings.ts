import { randomUUID } from 'node:crypto';

/** What is not pure, handed in: tests give their own. */
export interface Surroundings {
  now(): string;
  newId(): string;
}

export const realSurroundings: Surroundings = { now: () => new Date().toISOString(), newId: () => randomUUID() };

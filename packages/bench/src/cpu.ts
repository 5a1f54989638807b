import { spawnSync } from 'node:child_process';

/** A program and what it is given. */
export type Command = readonly string[];

/** Processor time in seconds of a program and all that it starts, by the shell's own clock: other work on the machine hardly counts. */
export function cpuSeconds([program, ...args]: Command): number {
  const { status, stderr } = spawnSync('bash', ['-c', 'TIMEFORMAT="%U %S"; time "$@"', 'bash', program, ...args], {
    encoding: 'utf8',
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  if (status !== 0) throw new Error(`${program} failed:\n${stderr}`);
  const [user, system] = stderr.trim().split('\n').at(-1)!.split(' ').map(Number);
  return user + system;
}

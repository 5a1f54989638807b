import { readFile } from 'node:fs/promises';
import { type ChainStep, checkModule, configureChain, type ModuleCheck, readModuleFile } from '@tonos/core';
import { assemble, findRemedy, type RenderResult, renderFile, renderSet } from '@tonos/render';

type RenderOf = Parameters<typeof renderFile>[0];
type Placed = Parameters<typeof renderSet>[0][number];

/** A job as it can be sent to a thread: its chain as it is written. */
export type Sent<Job extends { chain: unknown }> = Omit<Job, 'chain'> & { steps: readonly ChainStep[] };

const received = <Job extends { chain: unknown }>({ steps, ...job }: Sent<Job>) =>
  ({ ...job, chain: configureChain(steps) }) as unknown as Job;

/** All that runs chains, and with them modules that may not come back. */
export const TASKS = {
  render: (job: Sent<RenderOf>): Promise<RenderResult> => renderFile(received<RenderOf>(job)),
  'render-set': ({ jobs, signal }: { jobs: Sent<Placed>[]; signal?: AbortSignal }) =>
    renderSet(jobs.map((job) => received<Placed>({ ...job, signal }))),
  assemble,
  remedy: findRemedy,
  'check-module': async ({ path, sha256 }: { path: string; sha256: string }) => {
    const file = readModuleFile(await readFile(path), path);
    const started = performance.now();
    const checks: ModuleCheck[] = checkModule(file, sha256);
    return { manifest: file.manifest, checks, seconds: (performance.now() - started) / 1000 };
  },
} as const;

export type TaskName = keyof typeof TASKS;
export type TaskInput<Name extends TaskName> = Parameters<(typeof TASKS)[Name]>[0];
export type TaskResult<Name extends TaskName> = Awaited<ReturnType<(typeof TASKS)[Name]>>;

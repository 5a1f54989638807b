import type { AnyStep } from '../step.ts';
import type { ModuleManifest } from './manifest.ts';
import { moduleStep } from './module-step.ts';

/** A module that is known to this thread. Who only shows it needs no compiled one. */
export interface ProcessingModule {
  readonly sha256: string;
  readonly manifest: ModuleManifest;
  readonly compiled?: object;
}

const known = new Map<string, { module: ProcessingModule; step: AnyStep }>();

/** Makes a module known to this thread, by its content: steps that name it can then be configured, and run where it is compiled. */
export function knowModule(module: ProcessingModule): void {
  const before = known.get(module.sha256)?.module;
  if (before?.compiled || (before && !module.compiled)) return;
  known.set(module.sha256, { module, step: moduleStep(module) });
}

export const isModuleKnown = (sha256: string, toRun = false): boolean => {
  const module = known.get(sha256)?.module;
  return module !== undefined && (!toRun || module.compiled !== undefined);
};

/** A module that is gone from here: its steps are shown as missing from now on. */
export const forgetModule = (sha256: string): void => {
  known.delete(sha256);
};

export const stepOfModule = (sha256: string): AnyStep | undefined => known.get(sha256)?.step;

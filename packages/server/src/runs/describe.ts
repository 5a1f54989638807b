import type { RunItem } from '@tonos/contract';
import type { StepReport } from '@tonos/core';
import type { RunItemEntity } from './run-entity.ts';

/** Longer lists of numbers, such as a noise spectrum, are for the renderer and not for a reader. */
const LONGEST_LIST = 64;

const readable = (findings: StepReport['findings']): StepReport['findings'] =>
  Object.fromEntries(Object.entries(findings).filter(([, value]) => !isLong(value)));

const isLong = (value: unknown): boolean => Array.isArray(value) && (value.length > LONGEST_LIST || value.some(isLong));

export const describeItem = (item: RunItemEntity, name: string): RunItem => ({
  id: item.id,
  runId: item.runId,
  recordingId: item.recordingId,
  name,
  position: item.position,
  status: item.status,
  before: item.before,
  after: item.after,
  limits: item.limits ?? [],
  findings: (item.findings ?? []).map((report) => ({ ...report, findings: readable(report.findings) })),
  timeMap: item.timeMap,
  parts: item.parts,
  error: item.error,
  output: item.outputSha256
    ? { name: item.outputName!, sizeBytes: item.outputBytes!, sha256: item.outputSha256 }
    : null,
  accepted: item.accepted,
  cleared: item.cleared,
  seconds: item.seconds,
  machine: item.machine,
});

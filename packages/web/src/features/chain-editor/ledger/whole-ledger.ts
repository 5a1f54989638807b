import type { LedgerLine } from '@tonos/contract';
import type { ChainStep, Ledger } from '@tonos/core';

/** The ledger of a whole recording, by the server. @param tell hears every line; the last one is "done" or "failed" */
export async function askWholeLedger(
  recordingId: string,
  steps: readonly ChainStep[],
  signal: AbortSignal,
  tell: (line: LedgerLine) => void,
): Promise<void> {
  const response = await fetch(`/api/recordings/${recordingId}/ledger`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ steps }),
    signal,
  });
  if (!response.ok || !response.body) {
    const problem = (await response.json().catch(() => ({}))) as { detail?: string };
    throw new Error(problem.detail ?? 'The server does not answer. See whether it still runs.');
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  for (let held = ''; ; ) {
    const { value, done } = await reader.read();
    const lines = (held + (value ?? '')).split('\n');
    held = lines.pop()!;
    for (const line of lines) if (line) tell(JSON.parse(line) as LedgerLine);
    if (done) return;
  }
}

export const NO_LEDGER: Ledger = {
  source: {
    integratedLufs: null,
    maxShortTermLufs: null,
    loudnessRangeLu: null,
    truePeakDbtp: null,
    samplePeakDbfs: null,
    rmsDbfs: null,
    noiseFloorDbfs: null,
  },
  rows: [],
};

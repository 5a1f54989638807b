import { Button } from '@mantine/core';
import { plainFigure } from '@tonos/core';
import { clock } from '../../../ui/time.ts';
import type { Example } from './use-example.ts';
import type { LedgerView } from './use-ledger.ts';

/** What the figures are of: the whole recording, or a stretch while the rest is measured or held back. */
export function MeasuredOf({
  example: { recording, watched, change },
  ledger,
}: {
  example: Example;
  ledger: LedgerView;
}) {
  if (!recording) return <>an example shows what each step does to the levels</>;
  if (ledger.trouble) return <span className="verdict-over">{ledger.trouble}</span>;
  const { startSeconds, endSeconds } = ledger.stretch;
  if (ledger.of === 'whole') return <>recording as it came, measured whole</>;
  return (
    <>
      {clock(startSeconds)} to {clock(endSeconds)} of it
      {ledger.share !== null && `; whole ${plainFigure(Math.floor(100 * ledger.share))} %`}
      <Button size="compact-xs" variant="subtle" ml={8} onClick={() => change({ held: !watched.held })}>
        {watched.held ? 'Measure whole' : 'Hold'}
      </Button>
    </>
  );
}

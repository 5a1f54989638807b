import { Button, Progress } from '@mantine/core';
import { timeLeft } from '../../ui/time.ts';
import classes from './UploadLine.module.css';
import type { Transfer } from './use-upload.ts';

const megabytes = (bytes: number) => (bytes / 1e6).toFixed(1);

/** What is on its way to the server, a line each. */
export function UploadLines({ transfers }: { transfers: readonly Transfer[] }) {
  return transfers.map((transfer) => <UploadLine key={transfer.id} transfer={transfer} />);
}

function UploadLine({ transfer }: { transfer: Transfer }) {
  const { what, sentBytes, totalBytes, state, reason, pause, goOn, cancel } = transfer;
  const share = totalBytes ? sentBytes / totalBytes : 0;
  return (
    <div className={classes.line} role="status">
      <span className={classes.what} title={what}>
        {what}
      </span>
      <span>
        <span className="figure">{megabytes(sentBytes)}</span> of{' '}
        <span className="figure">{megabytes(totalBytes)}</span> MB
      </span>
      <Progress className={classes.bar} value={100 * share} aria-label="Upload" transitionDuration={200} />
      <span className={classes.left}>
        {state === 'sending' ? leftText(transfer) : state === 'paused' ? 'paused' : ''}
      </span>
      {state === 'broken' && <span className="verdict-over small">{reason}</span>}
      {pause && state === 'sending' && (
        <Button variant="default" size="xs" onClick={pause}>
          Pause
        </Button>
      )}
      {goOn && state !== 'sending' && (
        <Button size="xs" onClick={goOn}>
          Go on
        </Button>
      )}
      <Button variant="default" size="xs" onClick={cancel}>
        Cancel
      </Button>
    </div>
  );
}

function leftText({ sentBytes, totalBytes, startedBytes, startedMs }: Transfer): string {
  const seconds = (performance.now() - startedMs) / 1000;
  const sent = sentBytes - startedBytes;
  return seconds > 1 && sent > 0.01 * totalBytes ? timeLeft(((totalBytes - sentBytes) * seconds) / sent) : '';
}

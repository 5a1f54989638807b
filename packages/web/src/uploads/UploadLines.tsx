import { Button, Progress } from '@mantine/core';
import { useEffect, useSyncExternalStore } from 'react';
import { timeLeft } from '../ui/time.ts';
import { uploads } from './index.ts';
import classes from './UploadLine.module.css';
import type { Transfer } from './uploads.ts';

const megabytes = (bytes: number) => (bytes / 1e6).toFixed(1);
/** More than these are counted. */
const MOST_LINES = 3;

/** What is on its way to the server, a line each, on every page. Leaving asks only while something would be lost. */
export function UploadLines() {
  const transfers = useSyncExternalStore(uploads.subscribe, uploads.transfers);
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent) => uploads.isUnderWay && event.preventDefault();
    addEventListener('beforeunload', ask);
    return () => removeEventListener('beforeunload', ask);
  }, []);
  if (!transfers.length) return null;
  const more = transfers.length - MOST_LINES;
  return (
    <section className={classes.lines} aria-label="Uploads">
      {transfers.slice(0, MOST_LINES).map((transfer) => (
        <UploadLine key={transfer.id} transfer={transfer} />
      ))}
      {more > 0 && <p className="quiet small">and {more} more after these</p>}
    </section>
  );
}

function UploadLine({ transfer }: { transfer: Transfer }) {
  const { id, what, titleName, sentBytes, totalBytes, state, reason, resumable } = transfer;
  const share = totalBytes ? sentBytes / totalBytes : 0;
  return (
    <div className={classes.line} role="status" aria-live="off">
      <span className={classes.what} title={what}>
        {what} <span className="quiet">to {titleName}</span>
      </span>
      <span className={classes.size}>
        <span className="figure">{megabytes(sentBytes)}</span> of{' '}
        <span className="figure">{megabytes(totalBytes)}</span> MB
      </span>
      <Progress className={classes.bar} value={100 * share} aria-label={`Upload of ${what}`} transitionDuration={200} />
      <span className={classes.left}>{state === 'sending' ? leftText(transfer) : state === 'broken' ? '' : state}</span>
      {state === 'broken' && <span className="verdict-over small">{reason}</span>}
      {resumable && state === 'sending' && (
        <Button variant="default" size="compact-xs" onClick={() => uploads.pause(id)}>
          Pause
        </Button>
      )}
      {(state === 'paused' || state === 'broken') && (
        <Button size="compact-xs" onClick={() => uploads.goOn(id)}>
          {resumable ? 'Go on' : 'Try again'}
        </Button>
      )}
      <Button variant="default" size="compact-xs" onClick={() => uploads.cancel(id)}>
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

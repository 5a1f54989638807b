import { Button, Progress } from '@mantine/core';
import { timeLeft } from '../../ui/time.ts';
import classes from './UploadLine.module.css';
import type { Upload } from './use-upload.ts';

const megabytes = (bytes: number) => (bytes / 1e6).toFixed(1);

export function UploadLine({ upload: { state, cancel } }: { upload: Upload }) {
  if (!state) return null;
  const { sentBytes, totalBytes, files, startedMs } = state;
  const share = totalBytes ? sentBytes / totalBytes : 0;
  const seconds = (performance.now() - startedMs) / 1000;
  return (
    <div className={classes.line} role="status">
      <span>
        {files} {files === 1 ? 'file' : 'files'}, <span className="figure">{megabytes(sentBytes)}</span> of{' '}
        <span className="figure">{megabytes(totalBytes)}</span> MB
      </span>
      <Progress className={classes.bar} value={100 * share} aria-label="Upload" transitionDuration={200} />
      <span className={classes.left}>
        {share > 0.02 && seconds > 1 ? timeLeft((seconds * (1 - share)) / share) : ''}
      </span>
      <Button variant="default" size="xs" onClick={cancel}>
        Cancel
      </Button>
    </div>
  );
}

import { Select } from '@mantine/core';
import { type Forecast, figure, type LedgerFigures, type LimitResult, signedFigure } from '@tonos/core';
import { memo } from 'react';
import { api } from '../../../api/api.ts';
import { limitText } from '../../../ui/limit-text.ts';
import { COLUMNS } from './columns.ts';
import { FigureCells } from './FigureCells.tsx';
import classes from './Ledger.module.css';
import type { Example } from './use-example.ts';

interface TargetRowsProps {
  example: Example;
  told: Forecast | undefined;
  last: LedgerFigures | undefined;
  stale: boolean;
}

/** What the target's finish will add to the chain, and the windows that the result must lie in. */
export const TargetRows = memo(function TargetRows({
  example: { target, change },
  told,
  last,
  stale,
}: TargetRowsProps) {
  const { data: targets = [] } = api.useTargetsQuery();
  return (
    <>
      <div className={classes.line}>
        <span className={`${classes.first} ${classes.italic}`}>Finish</span>
        <span className={classes.what}>{told ? finishText(told) : 'what the target adds'}</span>
        <FigureCells figures={told?.figures} before={last} stale={stale} />
      </div>
      <div className={classes.line}>
        <span className={classes.first}>
          <Select
            size="xs"
            variant="unstyled"
            aria-label="Target"
            classNames={{ input: classes.italic }}
            allowDeselect={false}
            rightSectionWidth={16}
            data={targets.map(({ id, name }) => ({ value: id, label: name }))}
            value={target?.id ?? null}
            onChange={(targetId) => targetId && change({ targetId })}
            comboboxProps={{ width: 280, position: 'top-start' }}
          />
        </span>
        <span className={classes.what}>the target’s windows</span>
        <span className={classes.figures} data-stale={stale || undefined}>
          {COLUMNS.map(({ key }) => (
            <Window key={key} limit={told && limitFor(told.limits, key)} />
          ))}
        </span>
      </div>
    </>
  );
});

/** A limit of the sample peak stands where that of the true peak would. */
const limitFor = (limits: readonly LimitResult[], key: string): LimitResult | undefined =>
  limits.find(({ measure }) => measure === key) ??
  (key === 'truePeakDbtp' ? limits.find(({ measure }) => measure === 'samplePeakDbfs') : undefined);

function finishText({ gainDb, limitedDb }: Forecast): string {
  const gain = Math.abs(gainDb) < 0.05 ? 'no gain' : `${signedFigure(gainDb)} dB`;
  return limitedDb > 0.05 ? `${gain}, the highest peak down by ${figure(limitedDb)} dB` : gain;
}

/** Inside the brackets, above or below them: the place tells what the colour tells. */
function Window({ limit }: { limit: LimitResult | undefined }) {
  if (!limit) return <span className={classes.window} />;
  const { result, by } = limit;
  const mark =
    result === 'within'
      ? '[\u25cf]'
      : result === 'over'
        ? `[ ]\u25b2${by === null ? '' : figure(by)}`
        : `${by === null ? '' : figure(by)}\u25bc[ ]`;
  return (
    <span className={`${classes.window} verdict-${result}`}>
      {limitText(limit)} {mark}
    </span>
  );
}

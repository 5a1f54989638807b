import { Tooltip } from '@mantine/core';
import { IconDownload, IconFileOff, IconRefresh } from '@tabler/icons-react';
import { pathOf, ROUTES, type Run, type RunItem } from '@tonos/contract';
import { figure, type Limit } from '@tonos/core';
import { memo } from 'react';
import { api } from '../../api/api.ts';
import { useAppSelector } from '../../app/store.ts';
import type { Listened } from '../../listening/listening-slice.ts';
import { PlayMark } from '../../listening/PlayMark.tsx';
import { deliveredOf, sourceOf } from '../../listening/source-of.ts';
import { Ruler } from '../../plots/Ruler.tsx';
import type { RulerScale } from '../../plots/ruler-scale.ts';
import { lazily } from '../../ui/lazily.tsx';
import { measureOf } from '../../ui/limit-text.ts';
import { sayError } from '../../ui/notify.ts';
import { RowButton, RowLink } from '../../ui/table/RowControls.tsx';
import { clock, timeLeft } from '../../ui/time.ts';
import { verdictText } from '../../ui/verdict-text.ts';
import classes from './RunBoard.module.css';

const ItemAccount = lazily(async () => (await import('./ItemAccount.tsx')).ItemAccount);

interface BoardRowProps {
  run: Run;
  item: RunItem;
  place: number;
  limits: readonly Limit[];
  scales: readonly RulerScale[];
  rulerWidth: number;
  /** In what it departs from the rest. */
  notes: readonly string[] | undefined;
  /** Whether its account stands under it. */
  opened: boolean;
  toggle(id: string): void;
}

/** Drawn again only where what it shows has changed: while a long board is scrolled, rows stay as they are. */
export const BoardRow = memo(
  ({ run, item, place, limits, scales, rulerWidth, notes, opened, toggle }: BoardRowProps) => {
    const columns = limits.length;
    return (
      <>
        <tr className={classes.row} aria-rowindex={place} data-status={item.status}>
          <td className="place">{item.position}</td>
          <td className={`held-start ${classes.name}`} title={item.name}>
            <button type="button" className={classes.open} aria-expanded={opened} onClick={() => toggle(item.id)}>
              {item.name}
            </button>
            {notes && (
              <Tooltip label={notes.join('; ')}>
                <span className={`advice small ${classes.departs}`}>departs</span>
              </Tooltip>
            )}
          </td>
          {run.orderId && <PartsCell item={item} />}
          {item.after ? (
            limits.map((limit, i) => (
              <LimitCell key={limit.measure} item={item} limit={limit} scale={scales[i]} width={rulerWidth} />
            ))
          ) : (
            <td colSpan={columns}>
              <State item={item} />
            </td>
          )}
          <td className={`held-end ${classes.verdict} ${verdictClass(item)}`}>{verdictText(item)}</td>
          <td className="held-end">
            <RowActs run={run} item={item} />
          </td>
        </tr>
        {opened && (
          <tr className={classes.detail}>
            <td colSpan={columns + (run.orderId ? 5 : 4)}>
              <ItemAccount run={run} item={item} />
            </td>
          </tr>
        )}
      </>
    );
  },
);

/** What a programme was put together from. */
function PartsCell({ item: { parts } }: { item: RunItem }) {
  const places = (parts ?? []).map(({ name, startSeconds }) => `${clock(startSeconds, 1)} ${name}`);
  return (
    <td className={classes.parts} title={places.join('\n')}>
      {(parts ?? []).map(({ name }) => name).join(', ')}
    </td>
  );
}

const verdictClass = ({ status, limits }: RunItem): string => {
  if (status === 'within') return 'verdict-within';
  if (status === 'failed') return 'verdict-over';
  if (status !== 'off-target') return 'quiet';
  return limits.some(({ required, result }) => required && result === 'over') ? 'verdict-over' : 'verdict-under';
};

function LimitCell({ item, limit, scale, width }: { item: RunItem; limit: Limit; scale: RulerScale; width: number }) {
  const { title, unit, decimals } = measureOf(limit.measure);
  const judged = item.limits.find(({ measure }) => measure === limit.measure);
  const before = item.before?.[limit.measure] ?? null;
  const after = judged?.value ?? null;
  const text = (value: number | null) =>
    value === null ? '\u2013' : limit.measure === 'durationSeconds' ? clock(value) : figure(value, decimals);
  return (
    <td>
      <div className={classes.limit}>
        <Ruler
          scale={scale}
          min={limit.min}
          max={limit.max}
          before={before}
          after={after}
          result={judged?.result}
          width={width}
          label={`${title} before ${text(before)}, after ${text(after)} ${unit}, ${judged?.result ?? ''}`}
        />
        <span className={classes.figures}>
          <span
            className={`${classes.after} ${judged && judged.result !== 'within' ? `verdict-${judged.result}` : ''}`}
          >
            {text(after)}
          </span>
          <span className={classes.before}>{text(before)}</span>
        </span>
      </div>
    </td>
  );
}

function State({ item }: { item: RunItem }) {
  const progress = useAppSelector((state) => state.progress[item.id]);
  if (item.status === 'failed') return <span className="verdict-over small">{item.error?.message}</span>;
  if (item.status !== 'working')
    return <span className="quiet small">{item.status === 'queued' ? 'waits for a free thread' : ''}</span>;
  return (
    <div className={classes.working}>
      <div
        className={classes.bar}
        role="progressbar"
        aria-label={item.name}
        aria-valuenow={Math.round(100 * (progress?.share ?? 0))}
        aria-valuemin={0}
        aria-valuemax={100}
      >
        <div style={{ width: `${100 * (progress?.share ?? 0)}%` }} />
      </div>
      {progress?.stage ?? 'starting'}
      {item.machine && ` on ${item.machine.name}`}
      {progress?.secondsLeft != null && ` \u00b7 ${timeLeft(progress.secondsLeft)}`}
    </div>
  );
}

function RowActs({ run, item }: { run: Run; item: RunItem }) {
  const listened = listenedOf(item);
  const settled = item.status !== 'queued' && item.status !== 'working';
  return (
    <div className={classes.acts}>
      {listened && <PlayMark listened={listened} />}
      {item.output && item.cleared && (
        <Tooltip label="The file was cleared to save room. It can be made again, the same.">
          <IconFileOff size={16} className={classes.cleared} role="img" aria-label={`${item.output.name} is cleared`} />
        </Tooltip>
      )}
      {item.output && !item.cleared && (
        <RowLink href={outputUrl(item)} download title={item.output.name} aria-label={`Download ${item.output.name}`}>
          <IconDownload size={16} />
        </RowLink>
      )}
      {settled && item.status !== 'within' && <Again run={run} item={item} />}
    </div>
  );
}

function Again({ run, item }: { run: Run; item: RunItem }) {
  const [retry] = api.useRetryRunMutation();
  const again = async () => {
    const { error } = await retry({ id: run.id, itemIds: [item.id] });
    if (error) sayError(`${item.name} was not tried again`, error);
  };
  return (
    <Tooltip label="Try again">
      <RowButton aria-label={`Try ${item.name} again`} onClick={again}>
        <IconRefresh size={16} />
      </RowButton>
    </Tooltip>
  );
}

const outputUrl = (item: RunItem) =>
  `${pathOf(ROUTES.output, { id: item.runId, itemId: item.id })}?v=${item.output!.sha256.slice(0, 8)}`;

function listenedOf(item: RunItem): Listened | null {
  const { recordingId, before, name } = item;
  return before && { name, source: sourceOf(recordingId, before), result: deliveredOf(item) };
}

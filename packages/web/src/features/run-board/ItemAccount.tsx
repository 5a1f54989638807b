import type { Run, RunItem } from '@tonos/contract';
import { figure, LIMITABLE_MEASURES, type LimitableMeasure, signedFigure, stepOfKind } from '@tonos/core';
import { NoteThread } from '../../people/NoteThread.tsx';
import { clock } from '../../ui/time.ts';
import { Acceptance } from './Acceptance.tsx';
import { AdjustItem } from './AdjustItem.tsx';
import { EarlierAttempts } from './EarlierAttempts.tsx';
import { ItemOutside } from './ItemOutside.tsx';
import classes from './RunBoard.module.css';

const MEASURES = Object.keys(LIMITABLE_MEASURES) as LimitableMeasure[];

/** One item in full: every figure before and after, and what each step found and did. */
export function ItemAccount({ run, item }: { run: Run; item: RunItem }) {
  const { before, after, findings, error, seconds, machine, status } = item;
  if (error) return <p className="verdict-over">{error.message}</p>;
  if (!after) return <p className="quiet">There is nothing to tell before it has been rendered.</p>;
  return (
    <div className={classes.account}>
      <table>
        <thead>
          <tr>
            <th>Measure</th>
            <th>Before</th>
            <th>After</th>
            <th>Change</th>
          </tr>
        </thead>
        <tbody>
          {MEASURES.map((measure) => {
            const { title, unit, decimals } = LIMITABLE_MEASURES[measure];
            const [from, to] = [before?.[measure] ?? null, after[measure]];
            return (
              <tr key={measure}>
                <td>
                  {title} <span className="unit">{unit}</span>
                </td>
                <td>{from === null ? '\u2013' : figure(from, decimals)}</td>
                <td>{to === null ? '\u2013' : figure(to, decimals)}</td>
                <td className="quiet">{from === null || to === null ? '' : signedFigure(to - from, decimals)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <div>
        <ol className={classes.steps}>
          {findings.map((report) => (
            <li key={report.id}>
              <strong>
                {report.kind === 'finish' ? 'Finish' : (report.title ?? stepOfKind(report.kind)?.title ?? report.kind)}
              </strong>{' '}
              {reportText(report)}
            </li>
          ))}
        </ol>
        {after.warnings.length > 0 && (
          <p className="advice">{after.warnings.map(({ message }) => message).join(' ')}</p>
        )}
        {run.orderId ? <PartsAccount item={item} /> : <AdjustItem run={run} item={item} />}
        <ItemOutside run={run} item={item} />
        <EarlierAttempts item={item} />
        {status === 'off-target' && <Acceptance item={item} />}
        <NoteThread about={{ kind: 'item', id: item.id }} />
        {seconds !== null && (
          <p className="quiet small">
            Rendered in {figure(seconds)} s{machine && ` on ${machine.name}`}.
          </p>
        )}
      </div>
    </div>
  );
}

/** Where the parts of a programme lie in the delivery. */
function PartsAccount({ item: { parts } }: { item: RunItem }) {
  return (
    <table aria-label="Parts" className={classes.partTable}>
      <thead>
        <tr>
          <th>Part</th>
          <th>From</th>
          <th>To</th>
        </tr>
      </thead>
      <tbody>
        {(parts ?? []).map(({ id, name, startSeconds, endSeconds }) => (
          <tr key={id}>
            <td>{name}</td>
            <td>{clock(startSeconds, 2)}</td>
            <td>{clock(endSeconds, 2)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

interface Region {
  startSeconds: number;
  endSeconds: number;
}

/** What a step reports, as a sentence: its note, the room tone it used, a gain, the most a trace reached. */
function reportText({ kind, findings, deepest }: RunItem['findings'][number]): string {
  const parts: string[] = [];
  const regions = findings.regions as Region[] | undefined;
  if (regions?.length)
    parts.push(
      `room tone at ${regions
        .slice(0, 3)
        .map(({ startSeconds, endSeconds }) => `${clock(startSeconds, 1)}\u2013${clock(endSeconds, 1)}`)
        .join(', ')}`,
    );
  if (typeof findings.gainDb === 'number') parts.push(`${signedFigure(findings.gainDb)} dB`);
  for (const [trace, value] of Object.entries(deepest)) {
    const known = stepOfKind(kind)?.traces?.[trace];
    if (known) parts.push(`${known.title.toLowerCase()} up to ${figure(value)} ${known.unit}`);
  }
  if (typeof findings.note === 'string' && findings.note) parts.push(findings.note);
  return parts.join('; ');
}

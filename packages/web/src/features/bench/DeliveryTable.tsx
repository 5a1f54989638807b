import { VisuallyHidden } from '@mantine/core';
import type { Recording, RecordingItem } from '@tonos/contract';
import { LIMITABLE_MEASURES, type LimitableMeasure, type Measurement, signedFigure } from '@tonos/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { PlayMark } from '../../listening/PlayMark.tsx';
import { deliveredOf, sourceOf } from '../../listening/source-of.ts';
import { figureText } from '../../ui/figure-text.ts';
import { moment } from '../../ui/time.ts';
import { verdictText } from '../../ui/verdict-text.ts';
import classes from './Delivery.module.css';

/** What people judge a delivery by. */
const MEASURES = [
  'integratedLufs',
  'rmsDbfs',
  'truePeakDbtp',
  'noiseFloorDbfs',
  'loudnessRangeLu',
  'durationSeconds',
] as const satisfies readonly LimitableMeasure[];

/** Smaller differences are rounding. */
const LEAST_CHANGE = 0.05;

const differenceText = (value: number | null, base: number | null): string => {
  const by = value === null || base === null ? 0 : value - base;
  return Math.abs(by) < LEAST_CHANGE ? '' : signedFigure(by);
};

const isOpen = ({ status }: RecordingItem) => status === 'queued' || status === 'working';

interface DeliveryTableProps {
  recording: Recording;
  measurement: Measurement;
}

/** Every run that a recording was in, and what it came to: heard one after the other, and told against any of them. */
export function DeliveryTable({ recording, measurement }: DeliveryTableProps) {
  const { data: items = [] } = api.useRecordingItemsQuery(recording.id);
  const [chosenBase, setBase] = useState<string | null>(null);
  if (!items.length) return null;
  const base = items.find(({ id }) => id === chosenBase)?.after ?? (chosenBase === null ? measurement : null);
  const source = sourceOf(recording.id, measurement);
  return (
    <section className={classes.deliveries} aria-label="Deliveries">
      <h2>Deliveries</h2>
      <div className="wide">
        <table className="ledger">
          <thead>
            <tr>
              <th>
                <VisuallyHidden>Compared with</VisuallyHidden>
              </th>
              <th className="held-start">Run</th>
              <th>What came of it</th>
              {MEASURES.map((measure) => (
                <th key={measure} className="number" colSpan={2}>
                  {LIMITABLE_MEASURES[measure].title}{' '}
                  <span className="unit">{measure === 'durationSeconds' ? '' : LIMITABLE_MEASURES[measure].unit}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr data-base={chosenBase === null || undefined}>
              <BaseCell name="as it came in" chosen={chosenBase === null} onChoose={() => setBase(null)} />
              <td className="held-start">As it came in</td>
              <td />
              <Figures of={measurement} base={chosenBase === null ? null : base} />
            </tr>
            {items.map((item) => {
              const result = deliveredOf(item);
              const when = moment(item.run.createdAt);
              return (
                <tr key={item.id}>
                  {item.after ? (
                    <BaseCell
                      name={`the run of ${when}`}
                      chosen={chosenBase === item.id}
                      onChoose={() => setBase(item.id)}
                    />
                  ) : (
                    <td />
                  )}
                  <td className="held-start">
                    <span className={classes.run}>
                      {result && <PlayMark listened={{ name: `${item.name}, ${when}`, source, result }} />}
                      <Link className="plain" to={`/runs/${item.runId}`}>
                        {when}
                      </Link>
                    </span>
                    <span className={classes.what}>
                      {item.run.chainName}, revision {item.run.revision}; {item.run.targetName}
                    </span>
                  </td>
                  <td
                    className={`small ${isOpen(item) ? '' : item.status === 'within' ? 'verdict-within' : 'verdict-over'}`}
                  >
                    {item.error?.message ?? verdictText(item)}
                  </td>
                  <Figures of={item.after} base={chosenBase === item.id ? null : base} />
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

interface BaseCellProps {
  name: string;
  chosen: boolean;
  onChoose(): void;
}

function BaseCell({ name, chosen, onChoose }: BaseCellProps) {
  return (
    <td className={classes.base}>
      <input
        type="radio"
        name="told-against"
        aria-label={`Tell differences against ${name}`}
        title="Tell differences against this one"
        checked={chosen}
        onChange={onChoose}
      />
    </td>
  );
}

/** Its figures, and by how much they differ from the base's. */
function Figures({ of, base }: { of: Measurement | null; base: Measurement | null }) {
  return MEASURES.flatMap((measure) => [
    <td key={measure} className="number">
      {of ? figureText(measure, of[measure]) : ''}
    </td>,
    <td key={`${measure} difference`} className={classes.difference}>
      {of && base ? differenceText(of[measure], base[measure]) : ''}
    </td>,
  ]);
}

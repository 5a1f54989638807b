import type { Target } from '@tonos/contract';
import { figure, judge, LIMITABLE_MEASURES, type LimitableMeasure, type Measurement } from '@tonos/core';
import { limitText } from '../../ui/limit-text.ts';
import { clock } from '../../ui/time.ts';
import classes from './Bench.module.css';
import { WARNING_HELP } from './warning-help.ts';

const MEASURES = Object.keys(LIMITABLE_MEASURES) as LimitableMeasure[];

/** Every figure of the recording as it is, and where it lies against the title's target. */
export function FigureColumn({ measurement, target }: { measurement: Measurement; target: Target | undefined }) {
  const limits = target ? judge(target.limits, measurement).limits : [];
  return (
    <aside className={classes.figures} aria-label="Figures">
      <table>
        <thead>
          <tr>
            <th>As it is</th>
            <th />
            <th>{target ? target.name : ''}</th>
          </tr>
        </thead>
        <tbody>
          {MEASURES.map((measure) => {
            const { title, unit, decimals } = LIMITABLE_MEASURES[measure];
            const value = measurement[measure];
            const limit = limits.find((one) => one.measure === measure);
            const text =
              value === null ? '\u2013' : measure === 'durationSeconds' ? clock(value, 1) : figure(value, decimals);
            return (
              <tr key={measure}>
                <td>
                  {title} <span className="unit">{measure === 'durationSeconds' ? '' : unit}</span>
                </td>
                <td className={classes.value}>{text}</td>
                <td className={limit ? `verdict-${limit.result}` : ''}>
                  {limit && (limit.result === 'within' ? limitText(limit) : `${limit.result} ${limitText(limit)}`)}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {measurement.warnings.map(({ code, message }) => (
        <p key={code} className={classes.warning}>
          <span className="advice">{message}</span> {WARNING_HELP[code]}
        </p>
      ))}
    </aside>
  );
}

import type { RunItem } from '@tonos/contract';
import type { Limit } from '@tonos/core';
import type { RulerScale } from '../../plots/ruler-scale.ts';
import { SpreadRuler } from '../../plots/SpreadRuler.tsx';
import { spreadOf } from '../../plots/spread.ts';
import { figureText } from '../../ui/figure-text.ts';
import { measureOf } from '../../ui/limit-text.ts';
import classes from './RunBoard.module.css';

/** Fewer figures are seen at a glance in their rows. */
const LEAST_ITEMS = 3;

interface SpreadRowProps {
  items: readonly RunItem[];
  limits: readonly Limit[];
  scales: readonly RulerScale[];
  rulerWidth: number;
  /** Whether there is a column of parts. */
  withParts: boolean;
}

/** How each measure lies over the title, as far as it is delivered: on the rulers of the rows, highest and lowest beside them. */
export function SpreadRow({ items, limits, scales, rulerWidth, withParts }: SpreadRowProps) {
  const delivered = items.filter(({ after }) => after).length;
  if (delivered < LEAST_ITEMS) return null;
  return (
    <tr className={classes.spread}>
      <td />
      <td className="held-start">
        {delivered} together
        <span className={classes.sub}>highest, lowest</span>
      </td>
      {withParts && <td />}
      {limits.map(({ measure, min, max }, i) => {
        const values = items.map(({ after }) => after?.[measure]).filter((value) => typeof value === 'number');
        const spread = spreadOf(values, scales[i].place, rulerWidth);
        if (!spread) return <td key={measure} />;
        const [highest, median, lowest] = [spread.highest, spread.median, spread.lowest].map((value) =>
          figureText(measure, value),
        );
        const { title, unit } = measureOf(measure);
        const label = `${title} of ${values.length}: from ${lowest} to ${highest}, median ${median} ${unit}`;
        return (
          <td key={measure} title={label}>
            <div className={classes.limit}>
              <SpreadRuler scale={scales[i]} min={min} max={max} spread={spread} width={rulerWidth} label={label} />
              <span className={classes.figures}>
                <span className={classes.before}>{highest}</span>
                <span className={classes.before}>{lowest}</span>
              </span>
            </div>
          </td>
        );
      })}
      <td className={`held-end ${classes.verdictHead}`} />
      <td className="held-end" />
    </tr>
  );
}

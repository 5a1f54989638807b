import { figure, type MeterReading } from '@tonos/core';
import { useMeterReading } from './listening-clock.ts';
import classes from './MeterFigures.module.css';

type Meter = readonly [key: keyof MeterReading, short: string, meaning: string, decimals: number];

const METERS: readonly Meter[] = [
  ['momentaryLufs', '0.4 s LUFS', 'Loudness of the last 400 ms, LUFS', 1],
  ['shortTermLufs', '3 s LUFS', 'Loudness of the last 3 s, LUFS', 1],
  ['integratedLufs', 'since start', 'Loudness since listening began here, gated, LUFS', 1],
  ['truePeakDbtp', 'peak dBTP', 'Highest true peak since listening began here, dBTP', 1],
];
const CORRELATION: Meter = [
  'correlation',
  'L\u2009\u00b7\u2009R',
  'Correlation of left and right over the last 100 ms',
  2,
];

/** The figures that run along with what is heard, at the level of the file itself. */
export function MeterFigures({ channels }: { channels: number }) {
  const reading = useMeterReading();
  const meters = channels === 2 ? [...METERS, CORRELATION] : METERS;
  return (
    <dl className={classes.meters} aria-label="Meters">
      {meters.map(([key, short, meaning, decimals]) => {
        const value = reading?.[key] ?? null;
        return (
          <div key={key} title={meaning} data-over={key === 'truePeakDbtp' && value !== null && value > 0}>
            <dt>{short}</dt>
            <dd>{value === null ? '\u2013' : figure(value, decimals)}</dd>
          </div>
        );
      })}
    </dl>
  );
}

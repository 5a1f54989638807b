import type { ForecastQuestion } from '@tonos/contract';
import { clock, timeSpan } from '../ui/time.ts';
import classes from './Forecast.module.css';
import { useForecast } from './use-forecast.ts';

const gigabytes = (bytes: number) => `${(bytes / 1e9).toFixed(bytes < 1e9 ? 2 : 1)}\u2009GB`;

/** From the shortest to the longest. */
function lengthWords(lengths: readonly number[]): string {
  const [shortest, longest] = [clock(Math.min(...lengths)), clock(Math.max(...lengths))];
  return shortest === longest ? longest : `${shortest} to ${longest}`;
}

/** Before the start: who will be within and who will not, with the limit and what is missing; how long, and how much room. */
export function ForecastView({ question, count }: { question: ForecastQuestion | null; count: number }) {
  const { needs, recordings, seconds, isDone, trouble } = useForecast(question);
  if (!question) return null;
  if (trouble) return <p className="verdict-over small">{trouble}</p>;
  const within = recordings.filter((one) => one.within).length;
  const off = recordings.filter((one) => one.within === false);
  const open = recordings.filter((one) => one.within === null);
  const told = recordings.filter(({ notes }) => notes.length > 0);
  const lengths = recordings.flatMap(({ lengthSeconds }) => lengthSeconds ?? []);
  return (
    <section className={classes.forecast} aria-label="Forecast" aria-live="polite">
      <p className={classes.line}>
        <strong>Forecast</strong>
        <span className="verdict-within">{within} within</span>
        {off.length > 0 && <span className="verdict-over">{off.length} off target</span>}
        {open.length > 0 && <span className="quiet">{open.length} not to be told</span>}
        {!isDone && (
          <span className="quiet">
            {recordings.length} of {count} looked at
          </span>
        )}
        {lengths.length > 0 && <span className="quiet">{lengthWords(lengths)} long</span>}
        {seconds !== null && (
          <span className="quiet">
            takes {seconds < 10 ? '' : 'about '}
            {timeSpan(seconds)}
          </span>
        )}
        {needs && (
          <span className="quiet">
            up to {gigabytes(needs.diskBytes)} of {gigabytes(needs.freeBytes)} free
          </span>
        )}
      </p>
      {told.length > 0 && (
        <ul className={classes.list}>
          {told.map(({ name, within: fits, notes, lacks = [] }, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: they come in one order, and one body may be told of twice
            <li key={i}>
              <span className={fits === false || lacks.length ? 'verdict-over' : 'advice'}>{name}</span>{' '}
              {notes.join(' ')}
            </li>
          ))}
        </ul>
      )}
      {needs && needs.collisions.length > 0 && (
        <p className="advice small">Delivered under a number, for the name is taken: {needs.collisions.join(', ')}.</p>
      )}
    </section>
  );
}

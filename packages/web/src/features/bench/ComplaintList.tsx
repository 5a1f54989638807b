import { Button } from '@mantine/core';
import { type Complaint, complaintText, stepOfKind, type TimeSpan } from '@tonos/core';
import { clock } from '../../ui/time.ts';
import classes from './Bench.module.css';
import { hearable } from './hearable.ts';
import type { ComplaintTour } from './use-complaint-tour.ts';
import { canBeHeard } from './use-listen.ts';

interface ComplaintListProps {
  complaints: readonly Complaint[];
  tour: ComplaintTour;
  /** Plays a stretch as a remedy would leave it. */
  mended(remedy: NonNullable<Complaint['remedy']>, span: TimeSpan): void;
}

export function ComplaintList({ complaints, tour, mended }: ComplaintListProps) {
  if (!complaints.length) return <p className={classes.warning}>Nothing was heard that is wrong with it.</p>;
  return (
    <section aria-label="Complaints">
      {complaints.map((complaint) => {
        const { code, severity, places, morePlaces = 0, remedy } = complaint;
        const count = places.length + morePlaces;
        return (
          <p key={code} className={classes.warning}>
            <span className="advice">{complaintText(complaint)}</span>{' '}
            <span className="quiet">
              {'\u00b7 '}
              {severity}
              {remedy && `; ${stepOfKind(remedy.kind)?.title.toLowerCase() ?? remedy.kind} helps`}
            </span>{' '}
            {count > 0 && (
              <Button size="compact-xs" variant="default" onClick={() => tour.goTo(code)}>
                {count > 1 ? `${count} places` : 'Show it'}
              </Button>
            )}{' '}
            {remedy && canBeHeard(remedy) && places.length > 0 && (
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => mended(remedy, hearable(tour.currentOf(code) ?? places[0]))}
              >
                Hear it mended
              </Button>
            )}
          </p>
        );
      })}
      {tour.count > 0 && (
        <p className="quiet small">
          {tour.current
            ? `${tour.at + 1} of ${tour.count}: ${clock(tour.current.startSeconds, 2)}. `
            : `${tour.count} ${tour.count === 1 ? 'place' : 'places'} in all. `}
          <kbd>n</kbd> goes to the next, <kbd>p</kbd> to the one before, <kbd>l</kbd> repeats it.
        </p>
      )}
    </section>
  );
}

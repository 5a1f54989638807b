import { Button, VisuallyHidden } from '@mantine/core';
import type { Attempt, RunItem } from '@tonos/contract';
import { LIMITABLE_MEASURES, type LimitableMeasure } from '@tonos/core';
import { api } from '../../api/api.ts';
import { figureText } from '../../ui/figure-text.ts';
import { say, sayError } from '../../ui/notify.ts';
import { moment } from '../../ui/time.ts';
import classes from './RunBoard.module.css';

/** How the item came out before it was rendered again; each can be delivered instead. */
export function EarlierAttempts({ item }: { item: RunItem }) {
  const { data: attempts = [] } = api.useAttemptsQuery({ runId: item.runId, itemId: item.id });
  const [use, { isLoading }] = api.useUseAttemptMutation();
  if (!attempts.length) return null;
  const measures = item.limits.map(({ measure }) => measure as LimitableMeasure);
  const take = async (attempt: Attempt) => {
    const { error } = await use({ runId: item.runId, itemId: item.id, attemptId: attempt.id });
    if (error) sayError('The attempt was not taken', error);
    else say(`${item.name} is delivered as it was ${moment(attempt.keptAt)}; the other attempt stays.`);
  };
  return (
    <div className={classes.attempts}>
      <table aria-label="Earlier attempts">
        <thead>
          <tr>
            <th>Earlier attempt</th>
            {measures.map((measure) => (
              <th key={measure}>{LIMITABLE_MEASURES[measure].title}</th>
            ))}
            <th>
              <VisuallyHidden>Acts</VisuallyHidden>
            </th>
          </tr>
        </thead>
        <tbody>
          {attempts.map((attempt) => (
            <tr key={attempt.id}>
              <td>
                until {moment(attempt.keptAt)}, {attempt.status === 'within' ? 'within' : 'off target'}
                {attempt.accepted && ', accepted'}
              </td>
              {measures.map((measure) => (
                <td key={measure}>{figureText(measure, attempt.after?.[measure] ?? null)}</td>
              ))}
              <td>
                <Button size="compact-xs" variant="default" loading={isLoading} onClick={() => void take(attempt)}>
                  Deliver this one
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

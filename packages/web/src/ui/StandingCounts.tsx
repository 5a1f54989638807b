import type { TitleStanding } from '@tonos/contract';
import { countsOf, STANDINGS } from './standing-text.ts';

/** How much of a title was delivered, in words: 8 within, 2 off target. */
export function StandingCounts({ counts }: Pick<TitleStanding, 'counts'>) {
  const all = countsOf({ counts });
  return (
    <>
      {all.map(({ state, count }, i) => (
        <span key={state} className={STANDINGS[state].className}>
          {i > 0 && <span className="quiet">, </span>}
          <span className="figure">{count}</span> {STANDINGS[state].word}
        </span>
      ))}
    </>
  );
}

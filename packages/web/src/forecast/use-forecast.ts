import { type ForecastLine, type ForecastQuestion, ROUTES } from '@tonos/contract';
import { useEffect, useState } from 'react';
import { askLines } from '../api/ask-lines.ts';

export interface ForecastView {
  needs: Extract<ForecastLine, { type: 'needs' }> | null;
  recordings: Extract<ForecastLine, { type: 'recording' }>[];
  /** How long the run will take; null while it is not known. */
  seconds: number | null;
  isDone: boolean;
  trouble: string | null;
}

const NOTHING: ForecastView = { needs: null, recordings: [], seconds: null, isDone: false, trouble: null };

/** Foretells a run while its form is open; another question takes the place of the one before. */
export function useForecast(question: ForecastQuestion | null): ForecastView {
  const [view, setView] = useState(NOTHING);
  const key = question && JSON.stringify(question);
  useEffect(() => {
    setView(NOTHING);
    if (!key) return;
    const controller = new AbortController();
    askLines<ForecastLine>(ROUTES.forecast, { body: JSON.parse(key) }, controller.signal, (line) =>
      setView((before) => {
        if (line.type === 'needs') return { ...before, needs: line };
        if (line.type === 'recording') return { ...before, recordings: [...before.recordings, line] };
        return { ...before, seconds: line.seconds, isDone: true };
      }),
    ).catch((error: Error) => {
      if (!controller.signal.aborted) setView((before) => ({ ...before, trouble: error.message }));
    });
    return () => controller.abort();
  }, [key]);
  return view;
}

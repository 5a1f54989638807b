import { pathOf, type RecordingView, ROUTES } from '@tonos/contract';
import { useEffect, useState } from 'react';
import { problemIn } from '../../api/reason-of.ts';
import type { Spectra } from '../../plots/draw-plate.ts';
import type { TimeRange } from '../../plots/time-axis.ts';
import { sayError } from '../../ui/notify.ts';

const ROWS = 160;
/** While somebody zooms, only the range they stop at is asked for. */
const SETTLE_MS = 60;

export interface Sight {
  view: RecordingView | null;
  spectra: Spectra | null;
}

async function ask(path: string, signal: AbortSignal): Promise<Response> {
  const response = await fetch(path, { signal });
  if (response.ok) return response;
  throw new Error(await problemIn(response));
}

/** What the plate draws of a range. Until a new range has come, the last one stays, stretched to its place. */
export function useSight(id: string, { fromSeconds, toSeconds }: TimeRange, columns: number): Sight {
  const [view, setView] = useState<RecordingView | null>(null);
  const [spectra, setSpectra] = useState<Spectra | null>(null);
  useEffect(() => {
    if (!columns || toSeconds <= fromSeconds) return;
    const controller = new AbortController();
    const { signal } = controller;
    const query = `from=${fromSeconds}&to=${toSeconds}&columns=${columns}`;
    const timer = setTimeout(async () => {
      try {
        const answer = await ask(`${pathOf(ROUTES.recordingView, { id })}?${query}`, signal);
        setView((await answer.json()) as RecordingView);
        const spectrum = await ask(`${pathOf(ROUTES.spectrogram, { id })}?${query}&rows=${ROWS}`, signal);
        setSpectra({
          fromSeconds,
          toSeconds,
          columns,
          rows: ROWS,
          values: new Uint8Array(await spectrum.arrayBuffer()),
        });
      } catch (error) {
        if (!signal.aborted) sayError('There is no picture of this stretch', error);
      }
    }, SETTLE_MS);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [id, fromSeconds, toSeconds, columns]);
  return { view, spectra };
}

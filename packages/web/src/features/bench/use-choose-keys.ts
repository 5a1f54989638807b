import { spectrogramHz } from '@tonos/core';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { listeningSeconds } from '../../listening/listening-clock.ts';
import type { TimeRange } from '../../plots/time-axis.ts';
import { type Bounds, type Chosen, type Edge, movedInPitch, movedInTime } from './choose-edges.ts';
import type { Selection } from './markings.ts';

/** Of what is seen, and of an octave. */
const COARSE = 1 / 50;
const FINE = 1 / 1000;
const COARSE_OCTAVE = 1 / 3;
const FINE_OCTAVE = 1 / 24;

interface ChooseKeysNeeds {
  range: TimeRange;
  totalSeconds: number;
  sampleRateHz: number;
  selection: Selection | null;
  select(selection: Selection): void;
}

/**
 * P21: a stretch or a box is chosen and changed by keys: Shift with the arrows moves one end, with Alt in fine steps, and `o` goes over to
 * the other end. Where nothing is chosen yet, it begins where the sound is.
 */
export function useChooseKeys({ range, totalSeconds, sampleRateHz, selection, select }: ChooseKeysNeeds) {
  const [edge, setEdge] = useState<Edge>('end');
  const bounds: Bounds = {
    totalSeconds,
    lowestHz: spectrogramHz(0, sampleRateHz),
    highestHz: spectrogramHz(1, sampleRateHz),
  };
  const move = (moved: (from: Chosen) => Chosen) => {
    const to = moved({ selection: selection ?? placeIn(range), edge });
    select(to.selection);
    setEdge(to.edge);
  };
  const seen = range.toSeconds - range.fromSeconds;
  const time = (sign: number) => (event: KeyboardEvent) =>
    move((from) => movedInTime(from, sign * seen * (event.altKey ? FINE : COARSE), bounds));
  const pitch = (sign: number) => (event: KeyboardEvent) =>
    move((from) => movedInPitch(from, sign * (event.altKey ? FINE_OCTAVE : COARSE_OCTAVE), bounds));
  const options = { preventDefault: true };
  useHotkeys(['shift+left', 'shift+alt+left'], time(-1), options);
  useHotkeys(['shift+right', 'shift+alt+right'], time(1), options);
  useHotkeys(['shift+up', 'shift+alt+up'], pitch(1), options);
  useHotkeys(['shift+down', 'shift+alt+down'], pitch(-1), options);
  useHotkeys('o', () => setEdge(edge === 'end' ? 'start' : 'end'), { enabled: !!selection });
  return { edge, bounds };
}

/** Where the sound is, if that is seen; else the middle of what is. */
export function placeIn({ fromSeconds, toSeconds }: TimeRange): Selection {
  const now = listeningSeconds();
  const seconds = now >= fromSeconds && now < toSeconds && now > 0 ? now : (fromSeconds + toSeconds) / 2;
  return { startSeconds: seconds, endSeconds: seconds };
}

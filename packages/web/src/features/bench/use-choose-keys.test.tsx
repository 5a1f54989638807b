/** @jest-environment ./scripts/jest-dom.mjs */
import { act, fireEvent } from '@testing-library/react';
import { useState } from 'react';
import { setListeningSeconds } from '../../listening/listening-clock.ts';
import { hookInPage } from '../../testing/in-page.tsx';
import type { Selection } from './markings.ts';
import { useChooseKeys } from './use-choose-keys.ts';

const press = (key: string, more: KeyboardEventInit = {}) =>
  act(() => {
    const code = key.length === 1 ? `Key${key.toUpperCase()}` : key;
    fireEvent.keyDown(document, { key, code, ...more });
    fireEvent.keyUp(document, { key, code, ...more });
  });

const opened = () =>
  hookInPage(() => {
    const [selection, select] = useState<Selection | null>(null);
    const range = { fromSeconds: 10, toSeconds: 20 };
    return { selection, ...useChooseKeys({ range, totalSeconds: 60, sampleRateHz: 48_000, selection, select }) };
  }, undefined);

it('P21: Shift and the arrows choose a stretch from where the sound is, coarse and fine, at either end', () => {
  setListeningSeconds(12);
  const { result } = opened();
  press('o');
  expect(result.current).toMatchObject({ selection: null, edge: 'end' });
  press('ArrowRight', { shiftKey: true });
  // a fiftieth of the ten seconds that are seen
  expect(result.current.selection).toEqual({ startSeconds: 12, endSeconds: 12.2 });
  press('ArrowRight', { shiftKey: true, altKey: true });
  expect(result.current.selection!.endSeconds).toBeCloseTo(12.21, 9);
  press('o');
  press('ArrowLeft', { shiftKey: true });
  expect(result.current.selection!.startSeconds).toBeCloseTo(11.8, 9);
  expect(result.current.edge).toBe('start');
});

it('P21: without sound in sight it begins in the middle; Shift with up and down chooses frequencies', () => {
  setListeningSeconds(0);
  const { result } = opened();
  press('ArrowLeft', { shiftKey: true });
  expect(result.current.selection).toEqual({ startSeconds: 14.8, endSeconds: 15 });
  press('ArrowUp', { shiftKey: true });
  const { lowHz, highHz } = result.current.selection!;
  expect(highHz).toBe(result.current.bounds.highestHz);
  expect(lowHz).toBeCloseTo(result.current.bounds.lowestHz * 2 ** (1 / 3), 6);
});

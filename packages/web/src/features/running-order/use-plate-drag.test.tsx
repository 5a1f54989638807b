/** @jest-environment ./scripts/jest-dom.mjs */
import { act } from '@testing-library/react';
import { type OrderFile, readOrder } from '@tonos/core';
import { useState } from 'react';
import { hookInPage } from '../../testing/in-page.tsx';
import { shiftedBegin, withPart } from './edit-order.ts';
import { usePlateDrag } from './use-plate-drag.ts';

const order = readOrder({
  format: 'tonos.order/1',
  name: 'An evening',
  groups: [{ id: 'all' }],
  parts: [
    { id: 'a', group: 'all', source: { place: 'body' } },
    { id: 'b', group: 'all', source: { place: 'body' }, begins: { after: 'a', gapSeconds: 1 } },
  ],
});
const gapOf = ({ parts }: OrderFile) => (parts[1].begins as { gapSeconds: number }).gapSeconds;

function opened() {
  const { result } = hookInPage(() => {
    const [kept, keep] = useState(order);
    const [shifts, count] = useState(0);
    const drag = usePlateDrag(kept, (id, by) => {
      count((n) => n + 1);
      keep((now) => withPart(now, id, { begins: shiftedBegin(now.parts.find((part) => part.id === id)!, by)! }));
    });
    return { ...drag, kept, shifts };
  }, undefined);
  const told = () => {
    const { order: drawn, kept, held, shifts } = result.current;
    return { drawn: gapOf(drawn), kept: gapOf(kept), held, shifts };
  };
  return {
    told,
    drag: (by: number) => act(() => result.current.drag('b', by)),
    letGo: () => act(() => result.current.letGo()),
  };
}

/** As long as a plate rests. */
const rest = () => act(() => new Promise((resolve) => setTimeout(resolve, 250)));

it('moves in the drawing alone, and is one change when it is let go', () => {
  const { told, drag, letGo } = opened();
  for (let i = 0; i < 10; i++) drag(0.1);
  expect(told()).toEqual({ drawn: 2, kept: 1, held: true, shifts: 0 });
  letGo();
  expect(told()).toEqual({ drawn: 2, kept: 2, held: false, shifts: 1 });
});

it('becomes part of the order where it rests, and can be dragged on from there', async () => {
  const { told, drag, letGo } = opened();
  drag(0.5);
  await rest();
  expect(told()).toEqual({ drawn: 1.5, kept: 1.5, held: true, shifts: 1 });
  drag(0.25);
  letGo();
  expect(told()).toEqual({ drawn: 1.75, kept: 1.75, held: false, shifts: 2 });
  await rest();
  expect(told().shifts).toBe(2);
});

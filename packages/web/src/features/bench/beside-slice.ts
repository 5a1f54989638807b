import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Recording } from '@tonos/contract';
import { LIMITABLE_MEASURES, type LimitableMeasure, medianOf } from '@tonos/core';

/** What a recording's figures are set beside. Kept from one recording to the next, so that stepping through compares. */
export type Beside = 'target' | 'previous' | 'next' | 'median';

export const besideSlice = createSlice({
  name: 'beside',
  initialState: 'target' as Beside,
  reducers: { chosen: (_, { payload }: PayloadAction<Beside>) => payload },
});

export type Figures = Partial<Record<LimitableMeasure, number | null>>;

const MEASURES = Object.keys(LIMITABLE_MEASURES) as LimitableMeasure[];

/** Figures of a neighbour in the title's order, or each figure's median over the whole title. */
export function figuresBeside(
  beside: Exclude<Beside, 'target'>,
  { id }: { id: string },
  siblings: readonly Pick<Recording, 'id' | 'measurement'>[],
): Figures {
  if (beside === 'median') {
    const known = siblings.flatMap(({ measurement }) => measurement ?? []);
    const of = (measure: LimitableMeasure) => {
      const values = known.map((one) => one[measure]).filter((value) => typeof value === 'number');
      return values.length ? medianOf(values) : null;
    };
    return Object.fromEntries(MEASURES.map((measure) => [measure, of(measure)]));
  }
  const at = siblings.findIndex((one) => one.id === id);
  return siblings[at + (beside === 'next' ? 1 : -1)]?.measurement ?? {};
}

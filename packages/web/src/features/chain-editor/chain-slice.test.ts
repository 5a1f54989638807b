import fc from 'fast-check';
import { chainEditorSlice } from './chain-slice.ts';

const { actions, reducer } = chainEditorSlice;
const chainId = 'c';
const step = (id: string) => ({ id, kind: 'gain', on: true, mix: 1, settings: {} });
const start = reducer(
  {},
  actions.opened({ chainId, steps: [step('a'), step('b'), step('c')], basedOn: 1, version: 1 }),
);
const ids = (state: typeof start) => state[chainId].present.map(({ id }) => id).join('');

it('takes in steps from elsewhere, each with an id of its own, and gives them up again as one', () => {
  const state = reducer(start, actions.inserted({ chainId, at: 1, steps: [step('b'), step('b')] }));
  const now = state[chainId].present.map(({ id }) => id);
  expect(now).toHaveLength(5);
  expect(new Set(now).size).toBe(5);
  expect([now[0], now[3], now[4]]).toEqual(['a', 'b', 'c']);
  expect(ids(reducer(state, actions.undone({ chainId })))).toBe('abc');
});

it('moves a step, takes the move back and does it again', () => {
  const moved = reducer(start, actions.moved({ chainId, id: 'a', to: 2 }));
  expect(ids(moved)).toBe('bca');
  const undone = reducer(moved, actions.undone({ chainId }));
  expect(ids(undone)).toBe('abc');
  expect(ids(reducer(undone, actions.redone({ chainId })))).toBe('bca');
});

it('takes back a drag of one setting as one change, and another setting as another', () => {
  let state = start;
  for (const gainDb of [1, 2, 3])
    state = reducer(state, actions.edited({ chainId, id: 'a', part: { settings: { gainDb } }, touched: 'gainDb' }));
  state = reducer(state, actions.edited({ chainId, id: 'a', part: { mix: 0.5 }, touched: 'mix' }));
  state = reducer(state, actions.undone({ chainId }));
  expect(state[chainId].present[0]).toMatchObject({ mix: 1, settings: { gainDb: 3 } });
  state = reducer(state, actions.undone({ chainId }));
  expect(state[chainId].present[0].settings).toEqual({});
});

it('leaves a chain alone where a move leads nowhere', () => {
  expect(reducer(start, actions.moved({ chainId, id: 'a', to: -1 }))[chainId].past).toEqual([]);
});

it('forgets what could be done again once something else is changed', () => {
  const removed = reducer(
    reducer(reducer(start, actions.removed({ chainId, id: 'b' })), actions.undone({ chainId })),
    actions.removed({ chainId, id: 'c' }),
  );
  expect(ids(reducer(removed, actions.redone({ chainId })))).toBe('ab');
});

it('goes back to the start whatever was done, and forth to the end, step by step', () => {
  const at = fc.nat(6);
  const act = fc.oneof(
    at.map((to) => actions.added({ chainId, kind: 'gain', at: to, settings: {} })),
    at.map((to) => actions.inserted({ chainId, at: to, steps: [step('x'), step('y')] })),
    fc.tuple(at, at).map(([which, to]) => ({ which, to })),
    at.map((which) => ({ which, gone: true })),
    fc.tuple(at, fc.constantFrom('gainDb', 'mix', null)).map(([which, touched]) => ({ which, touched })),
    fc.constant(actions.replaced({ chainId, steps: [step('a'), step('z')] })),
  );
  fc.assert(
    fc.property(fc.array(act, { minLength: 1, maxLength: 30 }), (acts) => {
      let state = start;
      const seen = [state[chainId].present];
      for (const one of acts) {
        const steps = state[chainId].present;
        const action =
          'type' in one
            ? one
            : (() => {
                const { id } = steps[one.which % Math.max(1, steps.length)] ?? { id: 'nobody' };
                if ('gone' in one) return actions.removed({ chainId, id });
                if ('to' in one) return actions.moved({ chainId, id, to: one.to });
                return actions.edited({ chainId, id, part: { mix: 0.5 }, touched: one.touched });
              })();
        state = reducer(state, action);
        expect(new Set(state[chainId].present.map(({ id }) => id)).size).toBe(state[chainId].present.length);
        seen.push(state[chainId].present);
      }
      const end = state[chainId].present;
      const undone = state[chainId].past.length;
      for (let k = 0; k < undone; k++) {
        state = reducer(state, actions.undone({ chainId }));
        expect(seen).toContainEqual(state[chainId].present);
      }
      expect(state[chainId].present).toEqual(start[chainId].present);
      expect(reducer(state, actions.undone({ chainId }))).toEqual(state);
      for (let k = 0; k < undone; k++) state = reducer(state, actions.redone({ chainId }));
      expect(state[chainId].present).toEqual(end);
      expect(reducer(state, actions.redone({ chainId }))).toEqual(state);
    }),
  );
});

it('after keeping it stands on the new revision, and undo still reaches back', () => {
  const moved = reducer(start, actions.moved({ chainId, id: 'a', to: 1 }));
  const { present: steps } = moved[chainId];
  const kept = reducer(moved, actions.rebased({ chainId, steps, basedOn: 2, version: 2 }));
  expect(kept[chainId]).toMatchObject({ basedOn: 2, version: 2 });
  expect(kept[chainId].saved).toBe(kept[chainId].present);
  expect(ids(reducer(kept, actions.undone({ chainId })))).toBe('abc');
  expect(reducer(kept, actions.rebased({ chainId: 'unknown', steps, basedOn: 3, version: 3 }))).toEqual(kept);
});

it('keeps two hundred steps of undo, and no more', () => {
  let state = start;
  for (let k = 0; k < 250; k++)
    state = reducer(state, actions.edited({ chainId, id: 'a', part: { mix: k / 250 }, touched: null }));
  expect(state[chainId].past).toHaveLength(200);
});

it('P1: knows what is saved and what is not, by undo too', () => {
  const isSaved = (state: typeof start) => state[chainId].saved === state[chainId].present;
  expect(isSaved(start)).toBe(true);
  const moved = reducer(start, actions.moved({ chainId, id: 'a', to: 1 }));
  expect(isSaved(moved)).toBe(false);
  expect(isSaved(reducer(moved, actions.undone({ chainId })))).toBe(true);
  const stored = reducer(moved, actions.stored({ chainId, steps: moved[chainId].present, version: 2 }));
  expect(isSaved(stored)).toBe(true);
  expect(isSaved(reducer(stored, actions.undone({ chainId })))).toBe(false);
});

it('P1: yields to what somebody else wrote, and undo brings one\u2019s own back', () => {
  const mine = reducer(start, actions.removed({ chainId, id: 'b' }));
  const theirs = reducer(mine, actions.yielded({ chainId, steps: [step('x')], basedOn: 1, version: 7 }));
  expect(theirs[chainId]).toMatchObject({ version: 7, present: [{ id: 'x' }] });
  expect(theirs[chainId].saved).toBe(theirs[chainId].present);
  expect(ids(reducer(theirs, actions.undone({ chainId })))).toBe('ac');
});

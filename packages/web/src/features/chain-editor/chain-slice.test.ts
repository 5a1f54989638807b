import { chainEditorSlice } from './chain-slice.ts';

const { actions, reducer } = chainEditorSlice;
const chainId = 'c';
const step = (id: string) => ({ id, kind: 'gain', on: true, mix: 1, settings: {} });
const start = reducer({}, actions.opened({ chainId, steps: [step('a'), step('b'), step('c')], basedOn: 1 }));
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

/** @jest-environment ./scripts/jest-dom.mjs */
import { MantineProvider } from '@mantine/core';
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { Chain } from '@tonos/contract';
import { Provider } from 'react-redux';
import { makeStore, useAppSelector } from '../../app/store.ts';
import { answerPage } from '../../testing/answer-page.ts';
import { chainEditorSlice, type EditedStep } from './chain-slice.ts';
import { TwoChanges } from './TwoChanges.tsx';

const gain = (id: string, gainDb: number): EditedStep => ({
  id,
  kind: 'gain',
  on: true,
  mix: 100,
  settings: { gainDb },
});
const BASE = [gain('a', 0), gain('b', 0)];

let putBack: () => void;
beforeEach(() => {
  putBack = answerPage(async () => Response.json({ name: 'Voice', steps: BASE, revision: 1 }));
});
afterEach(() => putBack());

function Sheet({ chain }: { chain: Chain }) {
  const edited = useAppSelector((state) => state.chainEditor.c);
  return edited.basedOn < chain.revision ? <TwoChanges chain={chain} edited={edited} /> : <p>settled</p>;
}

/** The sheet beside a chain that Ada kept as revision 2, while `mine` was made of revision 1. */
async function shown(theirs: EditedStep[], mine: EditedStep[]) {
  const store = makeStore();
  const revisions = [{ author: 'Ada', note: 'Up', revision: 2 }];
  const chain = { id: 'c', revision: 2, version: 5, steps: theirs, revisions } as unknown as Chain;
  store.dispatch(chainEditorSlice.actions.opened({ chainId: 'c', steps: BASE, basedOn: 1, version: 4 }));
  store.dispatch(chainEditorSlice.actions.replaced({ chainId: 'c', steps: mine }));
  render(
    <Provider store={store}>
      <MantineProvider>
        <Sheet chain={chain} />
      </MantineProvider>
    </Provider>,
  );
  await screen.findByText('Ada kept revision 2 while you worked on revision 1');
  return () => store.getState().chainEditor.c;
}

const press = async (name: string) => {
  fireEvent.click(screen.getByRole('button', { name }));
  await waitFor(() => screen.getByText('settled'));
};

it('takes both where different steps were touched; undo brings back what was there', async () => {
  const edited = await shown([gain('a', 3), gain('b', 0)], [gain('a', 0), gain('b', -2)]);
  await press('Take both');
  expect(edited().present).toEqual([gain('a', 3), gain('b', -2)]);
  expect(edited()).toMatchObject({ basedOn: 2, version: 5 });
  expect(edited().past.at(-1)).toEqual([gain('a', 0), gain('b', -2)]);
});

it('takes theirs, or keeps mine', async () => {
  const theirs = await shown([gain('a', 3), gain('b', 0)], [gain('a', 1), gain('b', 0)]);
  expect((screen.getByRole('button', { name: 'Take both' }) as HTMLButtonElement).disabled).toBe(true);
  expect(screen.getAllByText(/both touched it/)).toHaveLength(2);
  await press('Take theirs');
  expect(theirs().present).toEqual([gain('a', 3), gain('b', 0)]);
});

it('keeps mine over theirs, knowingly', async () => {
  const mine = await shown([gain('a', 3), gain('b', 0)], [gain('a', 1), gain('b', 0)]);
  await press('Keep mine');
  expect(mine()).toMatchObject({ present: [gain('a', 1), gain('b', 0)], basedOn: 2, version: 5 });
});

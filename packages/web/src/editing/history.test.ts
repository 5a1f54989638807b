import { begun, change, redo, undo } from './history.ts';

const steps = (...kinds: string[]) => kinds;

it('undoes and redoes what was changed, one after the other', () => {
  const edited = begun(steps('a'), 1, 1);
  change(edited, steps('a', 'b'), null);
  change(edited, steps('a', 'b', 'c'), null);
  undo(edited);
  expect(edited.present).toEqual(['a', 'b']);
  undo(edited);
  undo(edited);
  expect(edited.present).toEqual(['a']);
  redo(edited);
  expect(edited.present).toEqual(['a', 'b']);
  change(edited, steps('x'), null);
  // what was undone is gone once something else is done
  redo(edited);
  expect(edited.present).toEqual(['x']);
});

it('a row of changes to one thing is undone as one; another thing, or an undo between, begins a new one', () => {
  const edited = begun(0, 1, 1);
  for (const value of [1, 2, 3]) change(edited, value, 'gain');
  change(edited, 4, 'mix');
  undo(edited);
  expect(edited.present).toBe(3);
  change(edited, 5, 'gain');
  undo(edited);
  expect(edited.present).toBe(3);
  undo(edited);
  expect(edited.present).toBe(0);
});

it('keeps two hundred changes, and what the server holds apart from them', () => {
  const edited = begun(0, 3, 7);
  for (let i = 1; i <= 250; i++) change(edited, i, null);
  for (let i = 0; i < 300; i++) undo(edited);
  expect(edited.present).toBe(50);
  expect(edited).toMatchObject({ saved: 0, basedOn: 3, version: 7 });
});

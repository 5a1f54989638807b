/** @jest-environment ./scripts/jest-dom.mjs */
import { render, screen } from '@testing-library/react';
import { lazily, loadWhatIsLeft } from './lazily.tsx';

const Answer = ({ word }: { word: string }) => <p>{word}</p>;

it('draws nothing until its program is there, which comes behind the page, and by itself from then on', async () => {
  const loaded: string[] = [];
  const Shown = lazily(async () => {
    loaded.push('shown');
    return Answer;
  });
  lazily<object>(async () => {
    loaded.push('behind a button');
    throw new Error('not there');
  });
  expect(loaded).toEqual([]);
  const { container } = render(<Shown word="here" />);
  expect([container.innerHTML, loaded]).toEqual(['', ['shown']]);
  expect(await screen.findByText('here')).toBeTruthy();
  loadWhatIsLeft();
  expect(loaded.slice(1)).toEqual(['shown', 'behind a button']);
  lazily(async () => {
    loaded.push('a page opened later');
    return Answer;
  });
  expect(loaded.at(-1)).toBe('a page opened later');
});

/** @jest-environment ./scripts/jest-dom.mjs */
import { render } from '@testing-library/react';
import { OthersHere } from './OthersHere.tsx';

const [ada, ben, cy] = ['Ada', 'Ben', 'Cy'].map((name) => ({ id: name, name }));
const text = (element: React.ReactElement) => render(element).container.textContent;

it('says nothing where one is alone', () => {
  expect(text(<OthersHere people={[]} drafts={[]} />)).toBe('');
});

it('names who is here, and who has a draft, each once', () => {
  expect(text(<OthersHere people={[ada]} />)).toBe(' \u00b7 Ada is here too');
  expect(text(<OthersHere people={[ada, ben, cy]} />)).toBe(' \u00b7 Ada, Ben and Cy are here too');
  const drafts = [{ person: ben, changedAt: new Date(2020, 4, 3, 14, 7).toISOString() }];
  expect(text(<OthersHere people={[ada, ben]} drafts={drafts} />)).toBe(
    ' \u00b7 Ben has a draft, last changed 3 May 2020, 14:07 \u00b7 Ada is here too',
  );
});

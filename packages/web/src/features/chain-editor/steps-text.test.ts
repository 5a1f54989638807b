import { stepsFromText, stepsToText } from './steps-text.ts';

it('carries steps through the clipboard, those of unknown kinds too', () => {
  const steps = [
    { id: 'a', kind: 'gain', on: false, mix: 0.5, settings: { gainDb: 2 } },
    { id: 'b', kind: 'from-tomorrow', on: true, mix: 1, settings: { x: [1] } },
  ];
  expect(stepsFromText(stepsToText(steps))).toEqual(steps);
});

it('takes no other text for steps', () => {
  for (const text of ['hello', '{}', '[]', 'null', '{"name":"x","steps":[]}', '{"name":"x","steps":[{"kind":5}]}'])
    expect(stepsFromText(text)).toBeNull();
});

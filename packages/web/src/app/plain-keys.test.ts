import { heedPlainKeys, PLAIN_KEYS } from './plain-keys.ts';

/** As much of a page as the keys need: what is kept, and who hears of a key first. */
let kept: Record<string, string>;
let page: EventTarget;
let heard: string[];
let end: () => void;
beforeEach(() => {
  kept = {};
  heard = [];
  Object.assign(globalThis, {
    localStorage: { getItem: (key: string) => kept[key] ?? null },
    HTMLElement: class {},
  });
  page = new EventTarget();
  end = heedPlainKeys(page as Window);
  page.addEventListener('keydown', (event) => heard.push((event as KeyboardEvent).key));
});
afterEach(() => end());

const press = (key: string, more: object = {}) =>
  page.dispatchEvent(
    Object.assign(new Event('keydown'), { key, ctrlKey: false, metaKey: false, altKey: false, ...more }),
  );
const all = () => {
  for (const key of ['n', '?', '/', ' ', 'ArrowUp', 'Enter']) press(key);
  press('z', { ctrlKey: true });
};

it('P21: leaves all keys alone until somebody switches them off', () => {
  all();
  expect(heard).toEqual(['n', '?', '/', ' ', 'ArrowUp', 'Enter', 'z']);
});

it('P21: switched off, only keys with Ctrl, arrows and the like are heard; and on again', () => {
  kept[PLAIN_KEYS] = 'false';
  all();
  expect(heard).toEqual([' ', 'ArrowUp', 'Enter', 'z']);
  kept[PLAIN_KEYS] = 'true';
  press('n');
  expect(heard.at(-1)).toBe('n');
});

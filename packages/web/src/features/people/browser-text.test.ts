import { browserText } from './browser-text.ts';

it.each([
  [
    'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0 Safari/537.36',
    'Chrome on Linux',
  ],
  ['Mozilla/5.0 (Windows NT 10.0; Win64) AppleWebKit/537.36 Chrome/130.0 Safari/537.36 Edg/130.0', 'Edge on Windows'],
  ['Mozilla/5.0 (Macintosh; Intel Mac OS X 14.1) AppleWebKit/605.1 Version/17.1 Safari/605.1', 'Safari on macOS'],
  ['Mozilla/5.0 (X11; Ubuntu; Linux x86_64; rv:131.0) Gecko/20100101 Firefox/131.0', 'Firefox on Linux'],
  ['curl/8.1', 'curl/8.1'],
  ['', 'unknown'],
])('%s', (agent, text) => {
  expect(browserText(agent)).toBe(text);
});

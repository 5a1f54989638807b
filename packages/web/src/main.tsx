import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './app/App.tsx';
import { pageAt } from './app/pages.ts';
import { heedPlainKeys } from './app/plain-keys.ts';
import { store } from './app/store.ts';
import { takeFirstAnswers } from './app/take-first-answers.ts';
import { loadWhatIsLeft } from './ui/lazily.tsx';

/** By then a page has long been drawn. */
const DRAWN_MS = 3000;

// before anything on the page listens for keys
heedPlainKeys();

const page = pageAt(location.pathname);
const [shown] = await Promise.all([
  // where its program does not come, the router asks for it again and tells why
  page?.load().catch(() => undefined),
  takeFirstAnswers(page?.questions ?? [], store.dispatch),
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <App opened={page && shown && { path: page.path, ...shown }} />
  </StrictMode>,
);

setTimeout(loadWhatIsLeft, DRAWN_MS);

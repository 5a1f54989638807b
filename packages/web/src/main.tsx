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

await takeFirstAnswers(pageAt(location.pathname)?.questions ?? [], store.dispatch);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <App />
  </StrictMode>,
);

setTimeout(loadWhatIsLeft, DRAWN_MS);

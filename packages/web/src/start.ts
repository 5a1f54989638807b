// before what pages have of their own: where two say the same, the later one holds
import './app/library.css';
import '@mantine/dropzone/styles.css';
import '@mantine/notifications/styles.css';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/newsreader';
import './app/tokens.css';
import './app/base.css';
import { askEarly } from './api/early.ts';
import { pageAt } from './app/pages.ts';

// schemas are not compiled in a page: its policy forbids that, and the browser reads all scripts anew to tell where it was tried
(globalThis as { __zod_globalConfig?: unknown }).__zod_globalConfig = { jitless: true };

// what the address shows is fetched beside the program that shows it, and not behind it; where it fails, that asks again and says so
const page = pageAt(location.pathname);
page?.load().catch(() => {});
askEarly(page?.questions.map(({ path }) => path) ?? []);
void import('./main.tsx');

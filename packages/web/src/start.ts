// before what pages have of their own: where two say the same, the later one holds
import '@mantine/core/styles.css';
import '@mantine/dropzone/styles.css';
import '@mantine/notifications/styles.css';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/newsreader';
import './app/tokens.css';
import './app/base.css';
import { pageAt } from './app/pages.ts';

// what the address shows is fetched beside the program that shows it, and not behind it; where it fails, that asks again and says so
pageAt(location.pathname)?.().catch(() => {});
void import('./main.tsx');

import { chromium } from '@playwright/test';
import { Tonos } from '../flows/tonos.ts';
import config from '../playwright.config.ts';

const tonos = await Tonos.start({ demo: true });
const browser = await chromium.launch(config.use!.launchOptions);
const page = await browser.newPage({
  viewport: { width: 1280, height: 800 },
  colorScheme: (process.env.SCHEME ?? 'light') as 'light',
});
page.on('console', (m) => m.type() === 'error' && console.log('console:', m.text()));
page.on('pageerror', (e) => console.log('pageerror:', e.message));
const shot = async (name: string) => {
  await page.waitForTimeout(600);
  await page.screenshot({ path: `/tmp/prof/${name}.png` });
};
try {
  await (await import(process.argv[2])).default({ page, tonos, shot });
} finally {
  await browser.close();
  await tonos.remove();
}

import type { Browser, Page } from '@playwright/test';

/** A page of the usual size that knows the helper which the compiler of this bench puts into functions with names. */
export async function newPage(browser: Browser): Promise<Page> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, bypassCSP: true });
  await page.addInitScript('globalThis.__name = (named) => named;');
  return page;
}

export interface Smoothness {
  framesPerSecond: number;
  /** The time that 95 of 100 frames keep to. */
  p95Ms: number;
  mostMs: number;
}

/** How smoothly a page draws while something goes on in it. */
export async function smoothness(page: Page, work: () => Promise<void>): Promise<Smoothness> {
  await page.evaluate(() => {
    const times: number[] = [];
    Object.assign(window, { frameTimes: times });
    const note = (now: number) => {
      times.push(now);
      if ((window as unknown as { frameTimes: number[] }).frameTimes === times) requestAnimationFrame(note);
    };
    requestAnimationFrame(note);
  });
  await work();
  const times = await page.evaluate(() => {
    const taken = (window as unknown as { frameTimes: number[] }).frameTimes;
    Object.assign(window, { frameTimes: [] });
    return taken;
  });
  const gaps = times.slice(1).map((time, i) => time - times[i]);
  gaps.sort((a, b) => a - b);
  return {
    framesPerSecond: (1000 * gaps.length) / (times[times.length - 1] - times[0]),
    p95Ms: gaps[Math.floor(0.95 * gaps.length)],
    mostMs: gaps[gaps.length - 1],
  };
}

/** What a page and its workers hold, in bytes. */
export const memoryOf = (page: Page): Promise<number> =>
  page.evaluate(async () => {
    const measure = performance as unknown as { measureUserAgentSpecificMemory(): Promise<{ bytes: number }> };
    return (await measure.measureUserAgentSpecificMemory()).bytes;
  });

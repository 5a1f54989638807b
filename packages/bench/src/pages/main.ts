import { readFileSync } from 'node:fs';
import { chromium } from '@playwright/test';
import config from '@tonos/e2e/config';
import { Tonos } from '@tonos/e2e/tonos';
import { board } from './board.ts';
import { chainPage } from './chain-page.ts';
import { type Figure, figureTable } from './figure.ts';
import { hourOfCuts } from './hour-of-cuts.ts';
import { many } from './many.ts';
import { team } from './team.ts';
import { tenHours } from './ten-hours.ts';

/** `npm run bench:pages`: what people wait for, in the built server and Debian's Chromium. Needs 5 GB of disk for a while. */
const PARTS = ['chain', 'board', 'cuts', 'hours', 'team', 'many'];
const wanted = process.argv.slice(2).filter((word) => PARTS.includes(word));
const does = (part: string) => !wanted.length || wanted.includes(part);

/** How fast the machine is at the moment, in ms: these change by ten within an hour, and what people wait for with them. */
function plainLoopMs(): number {
  const started = performance.now();
  let sum = 0;
  for (let i = 0; i < 3e8; i++) sum += i;
  // what is used is not left out
  return sum ? Math.round(performance.now() - started) : 0;
}

/** Processor time of all cores until now, in ticks: what was used here, and what others took that share the machine. */
function ticks(): { used: number; taken: number } {
  const [user, nice, system, , , , , steal] = readFileSync('/proc/stat', 'utf8')
    .split('\n')[0]
    .split(/ +/)
    .slice(1)
    .map(Number);
  return { used: user + nice + system, taken: steal };
}

const before = { loop: plainLoopMs(), ticks: ticks() };
const tonos = await Tonos.start({ demo: false, inbox: true });
const browser = await chromium.launch(config.use!.launchOptions);
const figures: Figure[] = [];
try {
  if (does('chain')) figures.push(...(await chainPage(tonos, browser)));
  if (does('board')) figures.push(...(await board(tonos)));
  if (does('cuts')) figures.push(...(await hourOfCuts(tonos, browser)));
  if (does('hours')) figures.push(...(await tenHours(tonos, browser)));
  if (does('team')) figures.push(...(await team(tonos)));
  if (does('many')) figures.push(...(await many(browser)));
  const now = ticks();
  const taken = now.taken - before.ticks.taken;
  const share = (100 * taken) / (now.used - before.ticks.used + taken);
  const found = `${before.loop} ms before, ${plainLoopMs()} ms behind; ${share.toFixed(0)} % of the time meanwhile was taken by others`;
  console.log(figureTable([...figures, { what: 'the machine: a plain loop of 300 million sums', wanted: '', found }]));
} finally {
  await browser.close();
  await tonos.remove();
}

import { configureStore } from '@reduxjs/toolkit';
import type { EngineEvents } from './engine/listening-engine.ts';
import { ListeningController, obeyedBy } from './listening-controller.ts';
import { type Listened, listeningSlice } from './listening-slice.ts';

const { chainChanged, listened, loopChosen, playingChanged, scrubbed, seekAsked, levelMatchChanged, deviceChosen } =
  listeningSlice.actions;
Object.assign(globalThis, { requestAnimationFrame: () => 0 });

/** A page's store with an engine that notes what it is asked. */
function page() {
  const said: string[] = [];
  const failed: string[] = [];
  let events: EngineEvents;
  const engine = {
    go: ({ track, seconds, gainDb, loop }: Parameters<Engine['go']>[0]) =>
      said.push(`go ${track.url} ${seconds}${gainDb ? ` ${gainDb} dB` : ''}${loop ? ' repeated' : ''}`),
    snippet: (_: unknown, seconds: number) => said.push(`snippet ${seconds}`),
    change: (_: unknown, gainDb: number) => said.push(`change ${gainDb} dB`),
    play: () => said.push('play'),
    pause: () => said.push('pause'),
    position: () => 0,
    reading: () => null,
    soundOn: async (device: string) => void said.push(`on ${device}`),
  };
  let opens = 0;
  let broken = false;
  const controller = new ListeningController({
    open: async (given) => {
      opens++;
      events = given;
      if (broken) throw new Error('no device');
      return engine;
    },
    fail: (title) => failed.push(title),
  });
  const store = configureStore({
    reducer: { listening: listeningSlice.reducer },
    middleware: (defaults) => defaults().concat(obeyedBy(controller)),
  });
  /** What was asked by now; each is told once. */
  const asked = async () => {
    await new Promise((resolve) => setTimeout(resolve));
    return said.splice(0);
  };
  const breakIt = (is: boolean) => {
    broken = is;
  };
  return { store, asked, failed, breakIt, events: () => events, opens: () => opens };
}
type Engine = import('./engine/listening-engine.ts').ListeningEngine;

const track = (url: string) => ({ url, sampleRateHz: 48000, channels: 1, frames: 480_000, boxes: [] });
const playable = (url: string, loudnessLufs: number | null = null) => ({
  track: track(url),
  overview: null,
  loudnessLufs,
  seconds: 10,
});
const chain = (gainDb: number, sourceLufs = -20) => ({
  steps: [{ id: 'g', kind: 'gain', on: true, mix: 1, settings: { gainDb } }],
  upTo: null,
  findings: {},
  findingsFromSeconds: 0,
  known: { marks: [] },
  sourceLufs,
  afterLufs: { g: -20 },
});
const listen = (what: Partial<Listened> = {}, side: 'source' | 'chain' = 'source', fromSeconds = 0) =>
  listened({ listened: { name: 'One', source: playable('/one'), result: null, ...what }, side, fromSeconds });

it('P19: does what is asked as soon as it is, in the order of asking', async () => {
  const { store, asked } = page();
  store.dispatch(listen({}, 'source', 3));
  expect(await asked()).toEqual(['go /one 3', 'play']);
  store.dispatch(seekAsked(7));
  store.dispatch(playingChanged(false));
  expect(await asked()).toEqual(['go /one 7', 'pause']);
  store.dispatch(playingChanged(true));
  expect(await asked()).toEqual(['play']);
  // the same once more is nothing
  store.dispatch(playingChanged(true));
  store.dispatch(levelMatchChanged(true));
  expect(await asked()).toEqual([]);
});

it('what is found by ear sounds for a moment, and playing on begins there', async () => {
  const { store, asked } = page();
  store.dispatch(listen());
  store.dispatch(playingChanged(false));
  await asked();
  store.dispatch(scrubbed(4));
  store.dispatch(scrubbed(4.5));
  expect(await asked()).toEqual(['snippet 4', 'snippet 4.5']);
  store.dispatch(playingChanged(true));
  expect(await asked()).toEqual(['go /one 4.5', 'play']);
});

it('a stretch that is repeated is begun where it lies, and left without a jump', async () => {
  const { store, asked } = page();
  store.dispatch(listen());
  await asked();
  store.dispatch(loopChosen({ startSeconds: 5, endSeconds: 6 }));
  expect(await asked()).toEqual(['go /one 5 repeated']);
  store.dispatch(loopChosen(null));
  expect(await asked()).toEqual(['go /one 5']);
});

it('a chain that is edited goes on sounding: other steps and levels are changed, nothing begins again', async () => {
  const { store, asked } = page();
  store.dispatch(listen({ chain: chain(-6) }, 'chain'));
  expect(await asked()).toEqual(['go /one 0', 'play']);
  store.dispatch(chainChanged(chain(-3)));
  expect(await asked()).toEqual(['change 0 dB']);
  store.dispatch(chainChanged(chain(-3, -26)));
  expect(await asked()).toEqual(['change -6 dB']);
  // another recording begins, and is not paused in between
  store.dispatch(listen({ source: playable('/two') }));
  expect(await asked()).toEqual(['go /two 0']);
});

it('tells the store when the sound ends, when it stops by itself, and tries a device again', async () => {
  const { store, asked, failed, breakIt, events, opens } = page();
  breakIt(true);
  store.dispatch(listen());
  await asked();
  expect([store.getState().listening.playing, failed]).toEqual([false, ['The sound stopped']]);
  breakIt(false);
  store.dispatch(playingChanged(true));
  expect(await asked()).toContain('play');
  expect(opens()).toBe(2);
  events().ended();
  expect(store.getState().listening).toMatchObject({ playing: false, seekAsked: { seconds: 0 } });
  expect(await asked()).toEqual(['pause', 'go /one 0']);
  store.dispatch(playingChanged(true));
  events().trouble('the thread stopped');
  expect(store.getState().listening.playing).toBe(false);
  store.dispatch(deviceChosen('desk'));
  expect((await asked()).at(-1)).toBe('on desk');
});

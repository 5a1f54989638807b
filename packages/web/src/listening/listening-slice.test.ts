import {
  type ChainListening,
  type Listened,
  listeningSlice,
  liveOf,
  type Playable,
  playableOf,
} from './listening-slice.ts';

const {
  listened,
  sideChosen,
  seekAsked,
  scrubbed,
  loopChosen,
  playingChanged,
  chainChanged,
  sourceChanged,
  levelMatchChanged,
} = listeningSlice.actions;

const playable = (url: string): Playable => ({
  track: { url, sampleRateHz: 48000, channels: 1, frames: 48000, boxes: [] },
  overview: { recordingId: url },
  loudnessLufs: -20,
  seconds: 1,
});
const step = (id: string) => ({ id, kind: 'gain', on: true, mix: 1, settings: {} });
const chain = (more: Partial<ChainListening> = {}): ChainListening => ({
  steps: [step('a'), step('b'), step('c')],
  upTo: 'b',
  findings: {},
  findingsFromSeconds: 0,
  known: { marks: [], roomTone: undefined },
  sourceLufs: -20,
  afterLufs: {},
  ...more,
});
const one = (more: Partial<Listened> = {}): Listened => ({ name: 'x', source: playable('/s'), result: null, ...more });
const after = (...actions: Parameters<typeof listeningSlice.reducer>[1][]) =>
  actions.reduce(listeningSlice.reducer, listeningSlice.getInitialState());

it('plays what is chosen, from where it is asked to, without the loop of before', () => {
  const state = after(
    listened({ listened: one(), side: 'source' }),
    loopChosen({ startSeconds: 1, endSeconds: 2 }),
    listened({ listened: one({ name: 'y' }), side: 'source', fromSeconds: 7 }),
  );
  expect(state).toMatchObject({ playing: true, loop: null, seekAsked: { seconds: 7, snippet: false } });
  expect(state.listened!.name).toBe('y');
});

it('changes sides only to what is there', () => {
  const start = listened({ listened: one({ chain: chain() }), side: 'source' });
  expect(after(start, sideChosen('result')).side).toBe('source');
  expect(after(start, sideChosen('removed')).side).toBe('removed');
  expect(after(start, sideChosen('removed'), sideChosen('source')).side).toBe('source');
  expect(after(sideChosen('chain')).side).toBe('source');
});

it('hears the same word on the other side, and repeats it there, where a run has moved it', () => {
  // two seconds were taken out at 3
  const result = {
    ...playable('/r'),
    timeMap: [
      [0, 0],
      [3, 3],
      [5, 3],
      [10, 8],
    ] as const,
  };
  const start = listened({ listened: one({ result }), side: 'source' });
  const loop = loopChosen({ startSeconds: 6, endSeconds: 7 });
  const there = after(start, loop, sideChosen('result', 6.5));
  expect(there).toMatchObject({
    side: 'result',
    seekAsked: { seconds: 4.5 },
    loop: { startSeconds: 4, endSeconds: 5 },
  });
  const back = listeningSlice.reducer(there, sideChosen('source', 4.75));
  expect(back).toMatchObject({
    side: 'source',
    seekAsked: { seconds: 6.75 },
    loop: { startSeconds: 6, endSeconds: 7 },
  });
  // what is not in the result can't be repeated there
  expect(after(start, loopChosen({ startSeconds: 3.5, endSeconds: 4 }), sideChosen('result', 3.6)).loop).toBeNull();
  // where nothing has moved, nothing is gone to
  const still = after(start, sideChosen('result', 2));
  expect(still.seekAsked).toEqual({ seconds: 0, snippet: false });
});

it('sounds a short piece where a place is looked for in silence, and goes there while it plays', () => {
  const start = listened({ listened: one(), side: 'source' });
  expect(after(start, scrubbed(3)).seekAsked).toEqual({ seconds: 3, snippet: false });
  expect(after(start, playingChanged(false), scrubbed(3)).seekAsked).toEqual({ seconds: 3, snippet: true });
  expect(after(start, seekAsked(-4)).seekAsked).toEqual({ seconds: 0, snippet: false });
});

it('asks anew each time, so that the same place twice is gone to twice', () => {
  const first = after(listened({ listened: one(), side: 'source' }), seekAsked(3));
  const second = listeningSlice.reducer(first, seekAsked(3));
  expect(second.seekAsked).not.toBe(first.seekAsked);
});

it('takes a new source and a new chain for what is listened to, and for nothing', () => {
  const state = after(
    listened({ listened: one(), side: 'source' }),
    sourceChanged(playable('/t')),
    chainChanged(chain()),
  );
  expect(state.listened!.source.track.url).toBe('/t');
  expect(state.listened!.chain!.upTo).toBe('b');
  expect(after(chainChanged(chain())).listened).toBeNull();
});

it('remembers whether levels are matched', () => {
  expect(after().levelMatched).toBe(true);
  expect(after(levelMatchChanged(false)).levelMatched).toBe(false);
});

describe('what sounds', () => {
  it('is the delivery where it is chosen and there, otherwise the recording', () => {
    const result = playable('/r');
    expect(playableOf(one({ result }), 'result')).toBe(result);
    expect(playableOf(one({ result }), 'chain').track.url).toBe('/s');
    expect(playableOf(one(), 'result').track.url).toBe('/s');
  });

  it.each([
    ['chain', ['a', 'b', 'c'], false],
    ['so-far', ['a', 'b'], false],
    ['removed', ['a', 'b'], true],
  ] as const)('on the side “%s” goes through %j', (side, ids, removed) => {
    const live = liveOf(one({ chain: chain() }), side)!;
    expect(live.steps.map(({ id }) => id)).toEqual(ids);
    expect(live.removed).toBe(removed);
  });

  it('goes through all of the chain where no step is chosen, and through none on the other sides', () => {
    expect(liveOf(one({ chain: chain({ upTo: null }) }), 'so-far')!.steps).toHaveLength(3);
    expect(liveOf(one({ chain: chain() }), 'source')).toBeUndefined();
    expect(liveOf(one({ chain: chain() }), 'result')).toBeUndefined();
    expect(liveOf(one(), 'chain')).toBeUndefined();
  });
});

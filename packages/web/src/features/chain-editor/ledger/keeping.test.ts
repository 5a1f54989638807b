import { type LedgerFigures, ledgerFigures, MemorySignal } from '@tonos/core';
import { Checkpoints } from './checkpoints.ts';
import { exampleSlice, NOTHING_WATCHED } from './example-slice.ts';
import { prefixKey } from './messages.ts';

const figures: LedgerFigures = ledgerFigures(() => -20);
const signal = (frames: number) => new MemorySignal({ sampleRateHz: 48000, channels: 1 }, [[new Float32Array(frames)]]);
const checkpoint = (frames: number) => ({ figures, findings: {}, signal: signal(frames) });

describe('what is kept of a stretch', () => {
  it('gives up the samples that were used longest ago, never the figures', () => {
    const kept = new Checkpoints(4 * 2500);
    for (const key of ['a', 'b']) kept.put(key, checkpoint(1000));
    kept.get('a'); // used since
    kept.put('c', checkpoint(1000));
    expect(kept.get('a')!.signal).toBeDefined();
    expect(kept.get('b')!.signal).toBeUndefined();
    expect(kept.get('b')!.figures).toBe(figures);
    expect(kept.get('c')!.signal).toBeDefined();
  });

  it('keeps the newest, even where it alone is more than there is room for', () => {
    const kept = new Checkpoints(100);
    kept.put('small', checkpoint(10));
    kept.put('large', checkpoint(1000));
    expect(kept.get('large')!.signal).toBeDefined();
    expect(kept.get('small')!.signal).toBeUndefined();
  });

  it('takes a new result in place of the old one, and forgets all of another recording', () => {
    const kept = new Checkpoints(1e6);
    kept.put('a', checkpoint(10));
    const newer = checkpoint(20);
    kept.put('a', newer);
    expect(kept.get('a')).toBe(newer);
    kept.forget('');
    expect(kept.get('a')).toBeUndefined();
  });
});

describe('what a result hangs on', () => {
  const step = (more: object = {}) => ({ id: 'x', kind: 'gain', on: true, mix: 1, settings: { gainDb: 3 }, ...more });

  it('is not the name of a step, nor a step that is off', () => {
    expect(prefixKey([step({ id: 'y' })])).toBe(prefixKey([step()]));
    expect(prefixKey([step(), step({ on: false, settings: {} })])).toBe(prefixKey([step()]));
  });

  it.each([
    ['kind', { kind: 'limiter' }],
    ['mix', { mix: 0.5 }],
    ['a setting', { settings: { gainDb: 4 } }],
    ['scope', { scope: { marks: ['a'], crossfadeMs: 5 } }],
  ])('is its %s', (_, more) => {
    expect(prefixKey([step(more)])).not.toBe(prefixKey([step()]));
  });

  it('is the order', () => {
    const [a, b] = [step(), step({ kind: 'limiter' })];
    expect(prefixKey([a, b])).not.toBe(prefixKey([b, a]));
  });
});

describe('what a chain is looked at with', () => {
  const { watched, dismissed } = exampleSlice.actions;
  const after = (...actions: Parameters<typeof exampleSlice.reducer>[1][]) =>
    actions.reduce(exampleSlice.reducer, exampleSlice.getInitialState());

  it('is each chain\u2019s own, and keeps what is not named', () => {
    const state = after(
      watched({ chainId: 'a', recordingIds: ['r1'] }),
      watched({ chainId: 'a', held: true }),
      watched({ chainId: 'b', targetId: 't' }),
    );
    expect(state.a).toEqual({ ...NOTHING_WATCHED, recordingIds: ['r1'], held: true });
    expect(state.b).toEqual({ ...NOTHING_WATCHED, targetId: 't' });
  });

  it('remembers the advice that is not for it', () => {
    const state = after(dismissed({ chainId: 'a', advice: 'x' }), dismissed({ chainId: 'a', advice: 'y' }));
    expect(state.a.dismissed).toEqual(['x', 'y']);
  });
});

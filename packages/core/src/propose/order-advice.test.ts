import { type LedgerFigures, ledgerFigures } from '../chain/ledger.ts';
import { SHIPPED_CHAINS } from '../chain/shipped-chains.ts';
import { SHIPPED_TARGETS } from '../target/shipped-targets.ts';
import { orderAdvice } from './order-advice.ts';

const step = (kind: string, settings: Record<string, unknown> = {}, on = true) => ({ kind, on, mix: 1, settings });
const codes = (...steps: ReturnType<typeof step>[]) => orderAdvice(steps).map(({ code, step: at }) => [code, at]);

describe('advice on an order', () => {
  it.each(SHIPPED_CHAINS.map((chain) => [chain.name, chain]))('has nothing to say of "%s"', (_, chain) => {
    expect(orderAdvice(chain.steps)).toEqual([]);
  });

  it('warns of noise reduction behind what moves the floor, and not before it', () => {
    expect(codes(step('compressor'), step('noise-reduction'))).toEqual([['noise-reduction-late', 1]]);
    expect(codes(step('noise-reduction'), step('compressor'))).toEqual([]);
  });

  it('warns of a high-pass behind a compressor, which rumble drives', () => {
    expect(codes(step('compressor'), step('high-pass'))).toEqual([['high-pass-late', 1]]);
  });

  it('warns of what raises the level behind a limiter, with the decibels', () => {
    expect(codes(step('limiter'), step('gain', { gainDb: -3 }))).toEqual([]);
    const [advice] = orderAdvice([step('limiter', { ceilingDbtp: -2 }), step('gain', { gainDb: 4.5 })]);
    expect(advice).toMatchObject({ code: 'level-after-limiter', figureDb: 4.5 });
    expect(advice.message).toMatch(/over the ceiling of \u22122 dBTP again, by up to 4.5 dB/);
    const boost = { bands: [{ gainDb: 6 }, { gainDb: 9, on: false }] };
    expect(orderAdvice([step('limiter'), step('parametric-eq', boost)])[0]).toMatchObject({
      code: 'boost-after-limiter',
      figureDb: 6,
    });
  });

  it('warns of a level that is set twice, unless something changes it between', () => {
    expect(codes(step('rms-normalise'), step('loudness-normalise'))).toEqual([['level-set-twice', 1]]);
    expect(codes(step('rms-normalise'), step('compressor'), step('loudness-normalise'))).toEqual([]);
  });

  it('wants clicks and flat tops mended before the wave is bent', () => {
    expect(codes(step('high-pass'), step('declip'))).toEqual([['repair-late', 1]]);
    expect(codes(step('declip'), step('declick'), step('high-pass'))).toEqual([]);
  });

  it('wants fades behind what sets the level, and says it once', () => {
    const faded = [step('fade', { outSeconds: 3 }), step('gain'), step('loudness-normalise')];
    expect(orderAdvice(faded)).toMatchObject([{ code: 'fade-early', step: 0, fix: { act: 'move', from: 0, to: 2 } }]);
    expect(codes(step('loudness-normalise'), step('fade', { outSeconds: 3 }))).toEqual([]);
  });

  it('wants a room before the limiter, and pauses shortened once the noise is learned', () => {
    expect(codes(step('limiter'), step('reverb'))).toEqual([['room-after-limiter', 1]]);
    expect(codes(step('reverb'), step('limiter'))).toEqual([]);
    const short = step('shorten-pauses', { longestSeconds: 0.3 });
    expect(codes(short, step('noise-reduction'))).toEqual([['pauses-early', 0]]);
    expect(codes(short, step('noise-reduction', { method: 'adaptive' }))).toEqual([]);
    expect(codes(step('noise-reduction'), short)).toEqual([]);
    expect(codes(step('shorten-pauses', { longestSeconds: 1.5 }), step('noise-reduction'))).toEqual([]);
  });

  it('leaves out steps that are off, unknown or wrongly set', () => {
    expect(codes(step('compressor', {}, false), step('noise-reduction'))).toEqual([]);
    expect(codes(step('from-the-future'), step('compressor', { ratio: 99 }), step('high-pass'))).toEqual([]);
  });
});

it('says where a lossy target leaves too little room over the ceiling, and to what it is set', () => {
  const limited = (ceilingDbtp: number) => [{ kind: 'limiter', on: true, mix: 1, settings: { ceilingDbtp } }];
  const target = (name: string) => SHIPPED_TARGETS.find((one) => one.name === name)!;
  const [advice] = orderAdvice(limited(-1.2), target('Podcast, mono'));
  expect(advice).toMatchObject({
    code: 'little-headroom',
    step: 0,
    fix: { act: 'set', at: 0, settings: { ceilingDbtp: -1.5 } },
  });
  expect(advice.figureDb).toBeCloseTo(0.3, 9);
  expect(orderAdvice(limited(-1.5), target('Podcast, mono'))).toEqual([]);
  expect(orderAdvice(limited(-1.2), target('Broadcast, EBU R 128'))).toEqual([]);
});

describe('with the figures of an example', () => {
  const heard = (more: Partial<LedgerFigures>) => ({ ...ledgerFigures(() => null), ...more });

  it('warns of a gate that closes on the quietest passages, by how much, and where it belongs', () => {
    // the loudest 3 s at -18 LUFS, a range of 14 LU: a tenth of the passages lies at -32 or under
    const before = [heard({ maxShortTermLufs: -18, loudnessRangeLu: 14 })];
    const [advice] = orderAdvice([step('expander', { thresholdDb: -26 })], undefined, before);
    expect(advice).toMatchObject({
      code: 'gate-over-speech',
      step: 0,
      figureDb: 6,
      fix: { act: 'set', at: 0, settings: { thresholdDb: -42 } },
    });
    expect(advice.message).toMatch(/\u221226 dB lies 6\.0 dB over the quietest passages, at \u221232\.0 dB/);
    expect(orderAdvice([step('expander', { thresholdDb: -33 })], undefined, before)).toEqual([]);
  });

  it('says nothing of a gate where nothing has been measured', () => {
    expect(orderAdvice([step('expander', { thresholdDb: 0 })])).toEqual([]);
    expect(orderAdvice([step('expander', { thresholdDb: 0 })], undefined, [heard({})])).toEqual([]);
  });

  it('says by how much the floor lies higher where noise reduction comes late', () => {
    const steps = [step('compressor'), step('gain', { gainDb: 1 }), step('noise-reduction')];
    const before = [-62, -55.5, -54.5].map((noiseFloorDbfs) => heard({ noiseFloorDbfs }));
    const [advice] = orderAdvice(steps, undefined, before);
    expect(advice).toMatchObject({
      code: 'noise-reduction-late',
      step: 2,
      figureDb: 7.5,
      fix: { act: 'move', from: 2, to: 0 },
    });
    expect(advice.message).toContain('The floor is 7.5 dB higher here.');
    expect(orderAdvice(steps)[0].figureDb).toBeUndefined();
  });
});

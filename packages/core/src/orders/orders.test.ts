import fc from 'fast-check';
import { InvalidOrderError } from '../signal/errors.ts';
import { excerptOrder } from './excerpt-order.ts';
import { foretoldPart } from './foretold-part.ts';
import { orderFaults, readOrder, withChains } from './order-faults.ts';
import { type OrderFile, placesOf } from './order-file.ts';
import { type KnownPart, resolveOrder } from './resolve-order.ts';

const RATE = 1000;

interface Row {
  id: string;
  [field: string]: unknown;
}

/** An order of one group; rows without a source get one of their id. */
const orderOf = (rows: readonly Row[], rest: Record<string, unknown> = {}): OrderFile =>
  readOrder({
    format: 'tonos.order/1',
    name: 'An evening',
    groups: [{ id: 'voices' }],
    parts: rows.map((row) => ({ group: 'voices', source: { recording: row.id }, ...row })),
    ...rest,
  });

type Sketch = Record<string, number | Partial<KnownPart>>;

const known = (parts: Sketch): Map<string, KnownPart> =>
  new Map(
    Object.entries(parts).map(([id, part]) => [
      id,
      { frames: 0, channels: 1, marks: [], ...(typeof part === 'number' ? { frames: part } : part) },
    ]),
  );

const lying = (order: OrderFile, parts: Sketch) =>
  Object.fromEntries(
    resolveOrder(order, known(parts), RATE).parts.map(({ part, start, end }) => [part.id, [start, end]]),
  );

const faultsOf = (act: () => unknown): string => {
  try {
    act();
  } catch (error) {
    if (error instanceof InvalidOrderError) return error.message;
    throw error;
  }
  return '';
};

it('a part begins after another, with it, or in the middle of it', () => {
  const order = orderOf([
    { id: 'opening', begins: { after: null, gapSeconds: 0.5 } },
    { id: 'body', begins: { after: 'opening', gapSeconds: -1.5 } },
    {
      id: 'bed',
      begins: { with: 'body', offsetSeconds: 2 },
      lasts: { untilEndOf: 'body', offsetSeconds: -3, loop: true },
    },
    { id: 'spot', begins: { into: 'body', mark: 'break 2' } },
    { id: 'sting', begins: { into: 'body', mark: 'break 1' } },
    { id: 'credits', begins: { after: 'body', gapSeconds: 0.25 }, lasts: { untilEndOf: 'credits-bed' } },
    { id: 'credits-bed', begins: { after: 'body' } },
  ]);
  const marks = [
    { name: 'break 1', frame: 4000 },
    { name: 'break 2', frame: 9000 },
  ];
  expect(
    lying(order, {
      opening: 5000,
      body: { frames: 12_000, marks },
      bed: 3000,
      spot: 2000,
      sting: 700,
      credits: 1000,
      'credits-bed': 600,
    }),
  ).toEqual({
    opening: [500, 5500],
    body: [4000, 18_700],
    // 3 s before the end of the opened body
    bed: [6000, 15_700],
    // behind what was put in before it
    sting: [8000, 8700],
    spot: [13_700, 15_700],
    'credits-bed': [18_700, 19_300],
    credits: [18_950, 19_300],
  });
});

it('what lasts until another is cut, or repeated only where that is wanted', () => {
  const until = (lasts: Record<string, unknown>) =>
    lying(orderOf([{ id: 'a' }, { id: 'bed', begins: { with: 'a' }, lasts }]), { a: 5000, bed: 3000 }).bed;
  expect(until({ untilEndOf: 'a', offsetSeconds: -4 })).toEqual([0, 1000]);
  expect(until({ untilEndOf: 'a' })).toEqual([0, 3000]);
  expect(until({ untilEndOf: 'a', loop: true })).toEqual([0, 5000]);
});

describe('properties', () => {
  /** Rows each of which hangs on one before it: no circles. */
  const rows = fc
    .array(fc.tuple(fc.nat(), fc.constantFrom('after', 'with', 'into', 'start'), fc.integer({ min: 0, max: 900 })), {
      minLength: 1,
      maxLength: 25,
    })
    .map((sketch) =>
      sketch.map(([on, how, by], i): Row => {
        const other = `p${on % Math.max(1, i)}`;
        if (i === 0 || how === 'start') return { id: `p${i}`, begins: { after: null, gapSeconds: by / 1000 } };
        if (how === 'after') return { id: `p${i}`, begins: { after: other, gapSeconds: by / 1000 } };
        if (how === 'with') return { id: `p${i}`, begins: { with: other, offsetSeconds: by / 1000 } };
        return { id: `p${i}`, begins: { into: other, mark: `m${i}` } };
      }),
    );
  const lengths = (order: OrderFile): Sketch =>
    Object.fromEntries(
      order.parts.map(({ id }, i) => {
        const frames = 400 + 137 * ((7 * i) % 11);
        // some at one moment
        const marks = order.parts.map((_, k) => ({ name: `m${k}`, frame: (53 * (k >> 1)) % frames }));
        return [id, { frames, marks }];
      }),
    );

  it('any order without circles resolves, and where its parts lie does not hang on the order of its rows', () => {
    fc.assert(
      fc.property(rows, fc.integer(), (sketch, seed) => {
        const order = orderOf(sketch);
        const parts = lengths(order);
        const shuffled = [...order.parts].sort((a, b) => hash(a.id, seed) - hash(b.id, seed));
        expect(lying({ ...order, parts: shuffled }, parts)).toEqual(lying(order, parts));
      }),
    );
  });

  it('a part is as long as it is and what plays inside it, and begins where its row says', () => {
    fc.assert(
      fc.property(rows, (sketch) => {
        const order = orderOf(sketch);
        const parts = lengths(order) as Record<string, KnownPart>;
        const at = lying(order, parts);
        for (const { id, begins } of order.parts) {
          const [start, end] = at[id];
          const inside = order.parts.filter((one) => 'into' in one.begins && one.begins.into === id);
          const inserted = inside.reduce((sum, one) => sum + at[one.id][1] - at[one.id][0], 0);
          expect(end - start).toBe(parts[id].frames + inserted);
          if ('with' in begins) expect(start).toBe(at[begins.with][0] + Math.round(begins.offsetSeconds * RATE));
          if ('after' in begins && begins.after)
            expect(start - at[begins.after][1]).toBe(Math.round(begins.gapSeconds * RATE));
        }
      }),
    );
  });

  it('any circle is found, and named from one part to the next', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 12 }), fc.array(fc.boolean(), { minLength: 12 }), (count, after) => {
        const ring = Array.from({ length: count }, (_, i): Row => {
          const other = `p${(i + 1) % count}`;
          return { id: `p${i}`, begins: after[i] ? { after: other } : { with: other } };
        });
        const [fault] = orderFaults(orderOf([{ id: 'apart' }, ...ring]));
        expect(fault.message).toContain('circle');
        for (const { id } of ring) expect(fault.message).toContain(`${id} (begins.`);
        expect(fault.message).not.toContain('apart');
      }),
    );
  });
});

const hash = (text: string, seed: number): number =>
  [...text].reduce((sum, sign) => Math.imul(sum ^ sign.charCodeAt(0), 0x9e3779b1), seed);

describe('an order that can\u2019t be is refused by part and field', () => {
  const fault = (rows: readonly Row[], rest?: Record<string, unknown>) =>
    orderFaults(orderOf(rows, rest)).map(({ where, field }) => [where, field]);

  it('whatever its recordings are', () => {
    expect(fault([{ id: 'a', begins: { after: 'b' } }])).toEqual([['part "a"', 'begins.after']]);
    expect(fault([{ id: 'a', name: 'Opening', group: 'x' }])).toEqual([['part "a (Opening)"', 'group']]);
    expect(fault([{ id: 'a' }, { id: 'a' }])).toEqual([['part "a"', 'id']]);
    expect(fault([{ id: 'a', lasts: { untilEndOf: 'a' } }])).toEqual([['part "a"', 'lasts.untilEndOf']]);
    expect(fault([{ id: 'a', source: { recording: 'a', startSeconds: 2, endSeconds: 1 } }])).toEqual([
      ['part "a"', 'source.endSeconds'],
    ]);
    expect(fault([{ id: 'a', pan: 0.5 }], { channels: 1 })).toEqual([['part "a"', 'pan']]);
    const spot = (id: string, rest = {}) => ({ id, begins: { into: 'a', mark: 'break' }, ...rest });
    expect(fault([{ id: 'a' }, spot('b'), spot('c')])).toEqual([['part "c"', 'begins.mark']]);
    expect(fault([{ id: 'a' }, spot('b', { lasts: { untilEndOf: 'a' } })])).toEqual([['part "b"', 'lasts']]);
    expect(fault([], {})).toEqual([[undefined, 'parts']]);
    const under = (rest: Record<string, unknown>) => ({ under: [{ group: 'voices', of: ['voices'], ...rest }] });
    expect(fault([{ id: 'a' }], under({}))).toEqual([['giving way 1', 'of']]);
    expect(fault([{ id: 'a' }], under({ of: ['radio'] }))).toEqual([['giving way 1', 'of']]);
  });

  it('a length that hangs on what hangs on it is a circle too', () => {
    const message = orderFaults(
      orderOf([
        { id: 'bed', lasts: { untilEndOf: 'talk' } },
        { id: 'talk', begins: { after: 'bed' } },
      ]),
    )[0].message;
    expect(message).toContain('bed (lasts.untilEndOf) \u2192 talk (begins.after) \u2192 bed');
  });

  it('once it is known how long parts are', () => {
    const refusal = (rows: readonly Row[], parts: Sketch) => faultsOf(() => lying(orderOf(rows), parts));
    expect(refusal([{ id: 'a' }, { id: 'b', begins: { with: 'a', offsetSeconds: -0.2 } }], { a: 1000, b: 1000 })).toBe(
      'Part "b", begins.offsetSeconds: it would begin 0.200 s before the programme.',
    );
    expect(
      refusal([{ id: 'a' }, { id: 'b', begins: { after: 'a' }, lasts: { untilBeginOf: 'a' } }], { a: 1000, b: 1000 }),
    ).toBe('Part "b", lasts: it would end 1.000 s before it begins.');
    const spot = { id: 'b', begins: { into: 'a', mark: 'break' } };
    expect(refusal([{ id: 'a' }, spot], { a: { frames: 1000, marks: [{ name: 'end', frame: 5 }] }, b: 9 })).toBe(
      'Part "b", begins.mark: "a" has no mark "break". It has "end".',
    );
    // cut away with its stretch
    expect(refusal([{ id: 'a' }, spot], { a: { frames: 10, marks: [{ name: 'break', frame: 11 }] }, b: 9 })).toContain(
      'begins.mark',
    );
    expect(refusal([{ id: 'a' }, { id: 'b', lasts: { untilEndOf: 'a', loop: true } }], { a: 1000, b: 70 })).toContain(
      'lasts.loop: it is 70 ms long',
    );
    expect(refusal([{ id: 'a', pan: -1 }], { a: { frames: 10, channels: 2 } })).toContain(
      'pan: only a part of one channel',
    );
  });

  it('by what is not written as it should be', () => {
    const wrong = (row: Record<string, unknown>) => faultsOf(() => orderOf([{ id: 'a', ...row }]));
    expect(wrong({ gainDb: 99 })).toMatch(/^Part "a", gainDb: /);
    expect(wrong({ begins: { behind: 'b' } })).toContain('Part "a", begins: Give after and gapSeconds');
    expect(wrong({ levl: null })).toBe('Part "a", levl: there is no such field.');
    expect(wrong({ source: {} })).toContain('Part "a", source: Give a recording');
    expect(faultsOf(() => readOrder([]))).not.toBe('');
    expect(faultsOf(() => readOrder(null))).not.toBe('');
  });
});

it('chains are found by name, and those of groups must keep time', () => {
  const chain = (kind: string) => ({
    format: 'tonos.chain/1' as const,
    name: kind,
    tags: [],
    notes: '',
    steps: [{ kind, on: true, mix: 1, settings: {} }],
  });
  const named = (name: string, rest = {}) =>
    orderOf([{ id: 'a', ...rest }], { groups: [{ id: 'voices', chain: name }] });
  expect(faultsOf(() => withChains(named('House'), () => undefined))).toBe(
    'Group "voices", chain: there is no chain "House".',
  );
  const faults = orderFaults(withChains(named('House'), () => chain('trim-ends')));
  expect(faults.map(({ where, field }) => [where, field])).toEqual([['group "voices"', 'chain']]);
  expect(orderFaults(withChains(named('House'), () => chain('fade')))).toEqual([]);
  expect(orderFaults(orderOf([{ id: 'a', chain: chain('trim-ends') }]))).toEqual([]);
  expect(orderFaults(orderOf([{ id: 'a', chain: chain('no-such-step') }]))[0].field).toBe('chain');
});

it('the places of a pattern, in the order of their rows', () => {
  const order = orderOf([
    { id: 'a', source: { place: 'spot' } },
    { id: 'b', source: { place: 'body' } },
    { id: 'c', source: { place: 'spot' } },
  ]);
  expect(placesOf(order)).toEqual(['spot', 'body']);
});

it('an overlap is a crossfade of equal power where neither side says how it fades', () => {
  const fades = (rows: readonly Row[]) =>
    resolveOrder(orderOf(rows), known({ a: 5000, b: 4000 }), RATE).parts.map(({ fadeIn, fadeOut }) => [
      fadeIn.frames,
      fadeOut.frames,
      fadeIn.frames || fadeOut.frames ? (fadeIn.frames ? fadeIn : fadeOut).shape : null,
    ]);
  const over = { id: 'b', begins: { after: 'a', gapSeconds: -1.5 } };
  expect(fades([{ id: 'a' }, over])).toEqual([
    [0, 1500, 'equal-power'],
    [1500, 0, 'equal-power'],
  ]);
  expect(fades([{ id: 'a', fadeOutSeconds: 0.5 }, over])).toEqual([
    [0, 500, 's-curve'],
    [0, 0, null],
  ]);
  // begun with another, or over before it ends: only added
  expect(fades([{ id: 'a' }, { id: 'b', begins: { with: 'a', offsetSeconds: 3.5 } }])).toEqual([
    [0, 0, null],
    [0, 0, null],
  ]);
  expect(fades([{ id: 'a' }, { id: 'b', begins: { after: 'a', gapSeconds: -4.5 } }])).toEqual([
    [0, 0, null],
    [0, 0, null],
  ]);
});

it('fades that are longer than their part are shortened alike, as those of a step are', () => {
  const [{ fadeIn, fadeOut }] = resolveOrder(
    orderOf([{ id: 'a', fadeInSeconds: 3, fadeOutSeconds: 1 }]),
    known({ a: 2000 }),
    RATE,
  ).parts;
  expect([fadeIn.frames, fadeOut.frames]).toEqual([1500, 500]);
});

describe('known without being read', () => {
  it('a part is as long as its stretch with the cuts made, and its marks move with them', () => {
    const [part] = orderOf([{ id: 'a', source: { recording: 'a', startSeconds: 10, endSeconds: 40 } }]).parts;
    const recording = {
      durationSeconds: 60,
      channels: 2,
      cuts: [
        { kind: 'take-out' as const, on: true, startSeconds: 2, endSeconds: 5 },
        { kind: 'pause' as const, on: true, atSeconds: 20, lengthSeconds: 1.5 },
        { kind: 'take-out' as const, on: false, startSeconds: 30, endSeconds: 31 },
      ],
      marks: [
        { name: 'before', startSeconds: 12 },
        { name: 'behind', startSeconds: 25 },
      ],
    };
    expect(foretoldPart(part, recording, RATE)).toEqual({
      frames: 31_500,
      channels: 2,
      marks: [
        { name: 'before', frame: 2000 },
        { name: 'behind', frame: 16_500 },
      ],
    });
  });

  it('an excerpt has the middle of each part, and can always be put together', () => {
    const order = orderOf([
      { id: 'opening', begins: { after: null, gapSeconds: 1 } },
      { id: 'body', begins: { after: 'opening', gapSeconds: -20 } },
      { id: 'spot', begins: { into: 'body', mark: 'one' } },
      { id: 'sting', begins: { into: 'body', mark: 'two' } },
      {
        id: 'bed',
        begins: { with: 'body', offsetSeconds: 90 },
        lasts: { untilEndOf: 'body', offsetSeconds: -60, loop: true },
      },
    ]);
    const lengths = { opening: 45, body: 1800, spot: 8, sting: 12, bed: 5 };
    const short = excerptOrder(
      order,
      new Map(Object.entries(lengths).map(([id, durationSeconds]) => [id, { id, durationSeconds }])),
      ({ id }) => (id === 'body' ? 30 : 10),
    );
    expect(short.parts.map(({ source }) => source)).toEqual([
      { recording: 'opening', startSeconds: 17.5, endSeconds: 27.5 },
      { recording: 'body', startSeconds: 885, endSeconds: 915 },
      { recording: 'spot', startSeconds: 0, endSeconds: 8 },
      { recording: 'sting', startSeconds: 1, endSeconds: 11 },
      { recording: 'bed', startSeconds: 0, endSeconds: 5 },
    ]);
    const frames = { opening: 10_000, body: 30_000, spot: 8000, sting: 10_000, bed: 5000 };
    expect(lying(short, frames)).toEqual({
      opening: [1000, 11_000],
      body: [9000, 39_000],
      spot: [39_000, 47_000],
      sting: [47_000, 57_000],
      bed: [11_000, 37_000],
    });
  });
});

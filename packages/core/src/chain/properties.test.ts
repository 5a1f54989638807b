import fc from 'fast-check';
import { orderAdvice } from '../propose/order-advice.ts';
import { STEPS } from '../steps/index.ts';
import { adjustChain, mergeAdjustments } from './adjustments.ts';
import { type ChainStep, chainFile, configureChain } from './chain-file.ts';
import { compareChains } from './compare.ts';

/** What holds for every chain that can be written down. */

const settings = fc.dictionary(fc.stringMatching(/^[a-z]{1,6}$/), fc.oneof(fc.integer(), fc.boolean(), fc.string()), {
  maxKeys: 3,
});
/** Steps of known and unknown kinds, each with an id of its own. */
const steps = fc
  .uniqueArray(fc.stringMatching(/^[a-z]{1,4}$/), { maxLength: 8 })
  .chain((ids) =>
    fc.tuple(
      ...ids.map((id) =>
        fc.record({
          id: fc.constant(id),
          kind: fc.constantFrom('gain', 'high-pass', 'limiter', 'noise-reduction', 'from-tomorrow'),
          on: fc.boolean(),
          mix: fc.double({ min: 0, max: 1, noNaN: true }),
          settings,
        }),
      ),
    ),
  )
  .map((some) => some as (ChainStep & { id: string })[]);
/** Those that can be run: known kinds at their defaults. */
const runnable = fc
  .array(fc.constantFrom(...STEPS.map(({ kind }) => kind)), { maxLength: 8 })
  .map((kinds) =>
    kinds.map((kind, i): ChainStep & { id: string } => ({ id: `s${i}`, kind, on: true, mix: 1, settings: {} })),
  );

describe('a chain file', () => {
  it('comes back from JSON as it went, unknown kinds and settings and all', () => {
    fc.assert(
      fc.property(steps, fc.string({ minLength: 1, maxLength: 50 }), (some, name) => {
        const file = { format: 'tonos.chain/1', name: `n${name}`, tags: [], notes: '', steps: some };
        const once = chainFile.parse(JSON.parse(JSON.stringify(file)));
        expect(chainFile.parse(JSON.parse(JSON.stringify(once)))).toEqual(once);
        expect(once.steps.map(({ kind }) => kind)).toEqual(some.map(({ kind }) => kind));
        expect(once.steps.map((step) => step.settings)).toEqual(some.map((step) => step.settings));
      }),
    );
  });

  it('is refused in words, never by an accident, whatever else lies in it', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const parsed = chainFile.safeParse(value);
        if (!parsed.success) expect(parsed.error.issues.length).toBeGreaterThan(0);
      }),
    );
  });
});

describe('differences', () => {
  it('are none between a chain and itself', () => {
    fc.assert(
      fc.property(steps, (some) => {
        for (const { from, to, moved, changes } of compareChains(some, structuredClone(some)))
          expect([from, moved, changes]).toEqual([to, false, []]);
      }),
    );
  });

  it('name each step of both sides once, in its place', () => {
    fc.assert(
      fc.property(steps, steps, (before, after) => {
        const differences = compareChains(before, after);
        const now = differences.filter(({ to }) => to !== null);
        expect(now.map(({ id }) => id)).toEqual(after.map(({ id }) => id));
        expect(now.map(({ to }) => to)).toEqual(after.map((_, i) => i + 1));
        const gone = differences.filter(({ to }) => to === null);
        for (const { id, from } of gone) expect(before[from! - 1].id).toBe(id);
        const kept = now.filter(({ from }) => from !== null);
        expect(kept.length + gone.length).toBe(before.length);
      }),
    );
  });

  it('see a step that was moved as moved, and not as changed', () => {
    fc.assert(
      fc.property(steps, fc.nat(), fc.nat(), (some, a, b) => {
        if (some.length < 2) return;
        const [from, to] = [a % some.length, b % some.length];
        const after = some.toSpliced(from, 1).toSpliced(to, 0, some[from]);
        const differences = compareChains(some, after);
        expect(differences.every(({ changes }) => changes.length === 0)).toBe(true);
        expect(differences.filter(({ moved }) => moved).length).toBeLessThanOrEqual(1);
        expect(differences.some(({ moved }) => moved)).toBe(from !== to);
      }),
    );
  });
});

describe('adjustments', () => {
  const adjustments = fc.array(fc.record({ id: fc.stringMatching(/^s[0-9]$/), settings: fc.constant({}) }), {
    maxLength: 4,
  });

  it('of nothing change nothing, and say which steps are not there', () => {
    fc.assert(
      fc.property(runnable, adjustments, (some, wanted) => {
        const { steps: adjusted, misfits } = adjustChain(some, wanted);
        expect(adjusted).toEqual(some);
        const ids = new Set(some.map(({ id }) => id));
        expect(new Set(misfits.map(({ id }) => id))).toEqual(
          new Set(wanted.map(({ id }) => id).filter((id) => !ids.has(id))),
        );
      }),
    );
  });

  it('merged twice are as merged once, and the later one counts', () => {
    const some = fc.array(
      fc.record({
        id: fc.constantFrom('a', 'b', 'c'),
        settings: fc.dictionary(fc.constantFrom('x', 'y'), fc.integer()),
      }),
      {
        maxLength: 5,
      },
    );
    fc.assert(
      fc.property(some, some, (earlier, later) => {
        const once = mergeAdjustments(earlier, later);
        expect(mergeAdjustments(once, later)).toEqual(once);
        for (const { id } of later) {
          const last = Object.assign({}, ...later.filter((one) => one.id === id).map((one) => one.settings));
          expect(once.find((one) => one.id === id)!.settings).toMatchObject(last);
        }
      }),
    );
  });
});

it('advice on order is of steps that are there, and following all of it ends', () => {
  fc.assert(
    fc.property(runnable, (some) => {
      let chain = some;
      for (let round = 0; round < 60; round++) {
        const advice = orderAdvice(chain, undefined);
        for (const { step, message, code } of advice) {
          expect(chain[step]).toBeDefined();
          expect(message).toMatch(/[.!]$/);
          expect(code).toMatch(/^[a-z-]+$/);
        }
        const mend = advice[0]?.fix;
        if (!mend) return;
        if (mend.act === 'move') {
          const [moved] = chain.slice(mend.from, mend.from + 1);
          chain = chain.toSpliced(mend.from, 1).toSpliced(mend.to, 0, moved);
        } else if (mend.act === 'remove') chain = chain.toSpliced(mend.at, 1);
        else
          chain = chain.with(mend.at, {
            ...chain[mend.at],
            settings: { ...chain[mend.at].settings, ...mend.settings },
          });
        configureChain(chain); // what was mended can be run
      }
      throw new Error(`Advice goes round in circles: ${chain.map(({ kind }) => kind).join(', ')}`);
    }),
  );
});

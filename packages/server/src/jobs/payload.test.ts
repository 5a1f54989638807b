import type { RecipeInput } from '@tonos/contract';
import { filesOf, type Payload, placeJob, type Workplace } from './payload.ts';

const marked = { marks: [], roomToneChoice: { use: [], never: [] }, boxes: [] };
const recipe: RecipeInput = {
  version: '0.1.0',
  source: { name: 'one.wav', sha256: 'source' },
  chain: { name: 'Gain', revision: 1, steps: [] },
  adjustments: [],
  marked,
  target: { format: 'tonos.target/1', name: 'Any', limits: [] } as unknown as RecipeInput['target'],
  notes: { title: 'One', picture: { sha256: 'cover' } },
};
const render = (...members: RecipeInput[]): Payload => ({
  kind: 'render',
  members: members.map((one, i) => ({ name: `${i}.wav`, recipe: one })),
});

/** A place where nothing is written; what was asked of it is kept. */
function place() {
  let made = 0;
  const discarded: string[] = [];
  const at: Workplace = {
    pathOf: (sha256) => `/here/${sha256}`,
    temporaryPath: () => `/tmp/${made++}`,
    spoolFolder: async () => `/spool/${made++}`,
    discard: async (path) => void discarded.push(path),
  };
  return { at, discarded };
}

it('names all files that a render hangs on, by their hashes, once each', () => {
  expect(filesOf({ kind: 'measure', name: 'one.wav', sha256: 'source' })).toEqual(['source']);
  const pickUps = { a: { name: 'again.wav', sha256: 'again' } };
  expect(filesOf(render({ ...recipe, pickUps })).sort()).toEqual(['again', 'cover', 'source']);
  const place = { offsetSeconds: 0, driftPpm: 0 };
  const other = { ...recipe, source: { name: 'two.wav', sha256: 'second' }, set: { place, others: [] } };
  expect(filesOf(render({ ...recipe, set: { place, others: [] } }, other)).sort()).toEqual([
    'cover',
    'second',
    'source',
  ]);
});

it('names the files of all parts of a programme', () => {
  const part = (id: string) => ({
    id,
    name: id,
    group: 'g',
    source: { recording: id },
    begins: { after: null, gapSeconds: 0 },
  });
  const parts = ['opening', 'body'];
  const order = {
    file: { format: 'tonos.order/1', name: 'Weekly', parts: parts.map(part) },
    parts: Object.fromEntries(parts.map((id) => [id, { name: id, sha256: `file of ${id}`, marked }])),
  } as unknown as RecipeInput['order'];
  expect(filesOf(render({ ...recipe, order })).sort()).toEqual(['cover', 'file of body', 'file of opening', 'source']);
});

it('puts a job in its place: paths there, and nothing that is left behind', async () => {
  const { at, discarded } = place();
  const { job, products, clear } = await placeJob(render(recipe), at);
  expect(job).toMatchObject({
    type: 'render',
    path: '/here/source',
    picturePath: '/here/cover',
    outputPath: products[0].output,
    pictures: { surveyPath: products[0].survey, copyPath: products[0].copy },
  });
  expect(JSON.stringify(job)).not.toContain('"sha256":"source"');
  await clear();
  const { spoolFolder } = job as { spoolFolder: string };
  expect(discarded.sort()).toEqual([...Object.values(products[0]), spoolFolder].sort());
});

it('recordings of a set are one job, each with what it makes and a spool of its own', async () => {
  const { at } = place();
  const set = { place: { offsetSeconds: 1.5, driftPpm: 20 }, others: [] };
  const { job, products } = await placeJob(render({ ...recipe, set }, { ...recipe, set }), at);
  expect(job).toMatchObject({ type: 'render-set', name: '0.wav, 1.wav' });
  const { members } = job as { members: { spoolFolder: string; outputPath: string; place: object }[] };
  expect(members.map(({ place }) => place)).toEqual([set.place, set.place]);
  expect(members.map(({ outputPath }) => outputPath)).toEqual(products.map(({ output }) => output));
  expect(new Set(members.map(({ spoolFolder }) => spoolFolder)).size).toBe(2);
});

it('where the second spool can’t be made the first one goes too', async () => {
  const { at, discarded } = place();
  let made = 0;
  const full = { ...at, spoolFolder: async () => (made++ ? Promise.reject(new Error('no room')) : '/spool/first') };
  const set = { place: { offsetSeconds: 0, driftPpm: 0 }, others: [] };
  await expect(placeJob(render({ ...recipe, set }, { ...recipe, set }), full)).rejects.toThrow('no room');
  expect(discarded).toEqual(['/spool/first']);
});

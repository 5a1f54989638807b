import { readChainFile } from './read-chain-file.ts';

const read = (content: unknown) =>
  readChainFile(typeof content === 'string' ? content : JSON.stringify(content), 'A.json');
const gain = { kind: 'gain', settings: { gainDb: 2 } };

it('reads a chain, and keeps a kind of another version with a remark', () => {
  const { file, remarks } = read({
    format: 'tonos.chain/1',
    name: 'A',
    steps: [gain, { kind: 'tape', settings: { age: 3 } }],
  });
  expect(file.steps.map(({ kind, settings }) => [kind, settings])).toEqual([
    ['gain', { gainDb: 2 }],
    ['tape', { age: 3 }],
  ]);
  expect(remarks).toHaveLength(1);
  expect(remarks[0]).toMatch(/Step 2.*tape.*kept/);
});

it.each([
  ['no JSON', '{', /A\.json is no JSON/],
  ['another file', { format: 'tonos.target/1', name: 'T' }, /no chain file but tonos\.target\/1/],
  ['a newer version', { format: 'tonos.chain/2', name: 'A', steps: [] }, /newer version/],
  ['no steps', { name: 'A' }, /steps/],
  [
    'a setting out of range',
    { name: 'A', steps: [{ kind: 'gain', settings: { gainDb: 99 } }] },
    /Step 1 \(gain\), setting gainDb.*-60 to 60/,
  ],
  ['a hostile one', `{"name":"A","steps":${'['.repeat(9000)}${']'.repeat(9000)}}`, /A\.json/],
  ['null', 'null', /A\.json/],
])('says what is wrong with %s, and where', (_, content, message) => {
  expect(() => read(content)).toThrow(message);
});

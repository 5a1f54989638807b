import type { Chain, ServerEvent, Target, Title } from '@tonos/contract';
import { TestPerson } from '../testing/person.ts';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let owner: TestPerson;
let tamsin: TestPerson;
let joost: TestPerson;
beforeAll(async () => {
  server = await TestServer.startShared();
  owner = await TestPerson.owner(server);
  tamsin = await owner.invites('Tamsin Adler', 'engineer');
  joost = await owner.invites('Joost Ferrand', 'engineer');
});
afterAll(() => server.remove());

/** What a page hears while something is done. */
async function heardBy(people: readonly TestPerson[], work: () => Promise<unknown>): Promise<ServerEvent[][]> {
  const shut = new AbortController();
  const heard = people.map((): ServerEvent[] => []);
  for (const [k, person] of people.entries()) {
    const { body } = await person.fetch('/events', { signal: shut.signal });
    void (async () => {
      let text = '';
      const decoder = new TextDecoder();
      try {
        for await (const chunk of body as unknown as AsyncIterable<Uint8Array>) {
          text += decoder.decode(chunk, { stream: true });
          const lines = text.split('\n\n');
          text = lines.pop()!;
          for (const line of lines) if (line.startsWith('data: ')) heard[k].push(JSON.parse(line.slice(6)));
        }
      } catch {
        // it was shut
      }
    })();
  }
  await work();
  await new Promise((resolve) => setTimeout(resolve, 300));
  shut.abort();
  return heard;
}

const types = (events: readonly ServerEvent[]) => [...new Set(events.map(({ type }) => type))].sort();

it('tells everybody what all share, and of a closed title those who know of it', async () => {
  const title = (await owner.call<Title>('POST', '/titles', { name: 'Closed', kind: 'podcast' })).body;
  await owner.call('PATCH', `/titles/${title.id}`, { closed: true });
  const form = new FormData();
  form.append('files', await voiceFile('a.wav', 1));
  const [owners, tamsins] = await heardBy([owner, tamsin], async () => {
    const [{ id }] = (await owner.call<{ id: string }[]>('POST', `/titles/${title.id}/recordings`, form)).body;
    await owner.call('PUT', `/recordings/${id}/marks/m`, { name: 'Here', startSeconds: 0, endSeconds: 0 });
    await owner.call('POST', '/notes', { about: { kind: 'recording', id }, text: 'In here.' });
    await owner.call('PATCH', `/titles/${title.id}`, { name: 'Still closed' });
    await owner.call('POST', '/chains', { name: 'Open to all', steps: [] });
  });
  expect(types(owners)).toEqual(expect.arrayContaining(['chain', 'note-in-title', 'recording', 'title']));
  expect(types(tamsins)).toEqual(['chain']);
  expect(JSON.stringify(tamsins)).not.toContain(title.id);
});

it('of a draft others hear that it began and that it ended, and its owner of every change', async () => {
  const chain = (await owner.call<Chain>('POST', '/chains', { name: 'Drafted', steps: [] })).body;
  const save = (gainDb: number) =>
    tamsin.call('PUT', `/chains/${chain.id}/draft`, { steps: [{ kind: 'gain', settings: { gainDb } }], basedOn: 1 });
  const [tamsins, joosts] = await heardBy([tamsin, joost], async () => {
    for (let k = 1; k <= 5; k++) await save(k);
    await tamsin.call('DELETE', `/chains/${chain.id}/draft`);
  });
  const told = (events: readonly ServerEvent[]) => events.filter(({ type }) => type === 'chain').length;
  expect([told(tamsins), told(joosts)]).toEqual([6, 2]);
});

it('of a title that is closed while they look, pages hear that what they may know of has changed', async () => {
  const title = (await owner.call<Title>('POST', '/titles', { name: 'Shut soon', kind: 'podcast' })).body;
  const [joosts] = await heardBy([joost], () => owner.call('PATCH', `/titles/${title.id}`, { closed: true }));
  expect(types(joosts)).toEqual(['people']);
  expect((await joost.call('GET', `/titles/${title.id}`)).status).toBe(404);
});

it('P6, P8: titles, targets, presets, the index, trash and storage are told of', async () => {
  const target = {
    name: 'Told of',
    limits: [{ measure: 'integratedLufs', min: -20, max: -18, aim: -19 }],
    output: { container: 'wav', bitDepth: 24 },
  };
  const { body: title } = await owner.call<Title>('POST', '/titles', { name: 'Told of', kind: 'podcast' });
  const { body: first } = await owner.call<Target>('POST', '/targets', target);
  const gain = { kind: 'gain', settings: { gainDb: 3 } };
  const letter = { name: 'Up', content: { kind: 'steps', steps: [gain] } };
  const heardOf = async (...call: [method: string, path: string, body?: object]) => {
    const [joosts] = await heardBy([joost], async () => expect((await owner.call(...call)).status).toBeLessThan(300));
    return types(joosts);
  };
  expect(await heardOf('PATCH', `/titles/${title.id}`, { name: 'Renamed' })).toContain('title');
  expect(await heardOf('PUT', `/targets/${first.id}`, { ...target, name: 'Louder' })).toContain('target');
  expect(await heardOf('POST', '/presets', { ...gain, name: 'Up', tags: [] })).toContain('preset');
  expect(await heardOf('PUT', '/index/q', letter)).toContain('index-place');
  expect(await heardOf('DELETE', `/titles/${title.id}`)).toContain('trash');
  expect(await heardOf('POST', '/storage/clear')).toContain('storage');
});

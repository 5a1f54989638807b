import { readdir, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import type { Chain, Integrity, RecipeFile, Recording, Run, Storage, Target, Title } from '@tonos/contract';
import { png } from '@tonos/formats/testing';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let title: Title;
beforeAll(async () => {
  server = await TestServer.start();
  title = (await server.call<Title>('POST', '/titles', { name: 'High Water', kind: 'podcast' })).body;
});
afterAll(() => server.remove());

const picture = (width: number, seed: number) => png(width, 1, seed);

const put = async (bytes: Buffer | string, type = 'image/png') => {
  const response = await fetch(`${server.origin}/api/titles/${title.id}/cover`, {
    method: 'PUT',
    body: typeof bytes === 'string' ? bytes : new Uint8Array(bytes),
    headers: { 'content-type': type },
  });
  return { status: response.status, body: (await response.json()) as Title & { code?: string } };
};
const got = () => fetch(`${server.origin}/api/titles/${title.id}/cover`);

it('takes a picture, tells its size, gives it back to the byte, and takes it away', async () => {
  expect((await got()).status).toBe(404);
  const { status, body } = await put(picture(9, 80));
  expect(status).toBe(200);
  expect(body.cover).toMatchObject({ mediaType: 'image/png', width: 9, height: 1 });
  const answer = await got();
  expect(answer.headers.get('content-type')).toBe('image/png');
  expect(Buffer.from(await answer.arrayBuffer())).toEqual(picture(9, 80));
  expect((await server.call('DELETE', `/titles/${title.id}/cover`)).status).toBe(204);
  expect((await server.call<Title>('GET', `/titles/${title.id}`)).body.cover).toBeNull();
});

it.each([
  ['text', 'no picture at all', 422, 'no-picture'],
  ['nothing', '', 422, 'no-picture'],
  ['a picture of another kind', '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>', 422, 'no-picture'],
  ['something larger than 2 MB', 'x'.repeat(2_200_000), 413, 'too-large'],
])('refuses %s, and keeps what was there', async (_, bytes, status, code) => {
  await put(picture(9, 80));
  expect(await put(bytes)).toMatchObject({ status, body: { code } });
  expect((await server.call<Title>('GET', `/titles/${title.id}`)).body.cover).toMatchObject({ width: 9 });
});

it('goes into what is delivered, stands in the recipe, and stays for as long as a recipe calls for it', async () => {
  await put(picture(9, 80));
  const form = new FormData();
  form.append('files', await voiceFile('a.wav', 3));
  const [{ id }] = (await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  const chain = (await server.call<Chain>('POST', '/chains', { name: 'Plain', steps: [] })).body;
  const targets = (await server.call<Target[]>('GET', '/targets')).body;
  const asked = { titleId: title.id, recordingIds: [id], chainId: chain.id };
  const targetId = targets.find(({ name }) => name === 'Podcast, mono')!.id;
  const { body: started } = await server.call<Run>('POST', '/runs', { ...asked, targetId });
  const run = await server.until<Run>(`/runs/${started.id}`, ({ status }) => status === 'finished');
  const item = `/runs/${run.id}/items/${run.items[0].id}`;
  const delivered = async () => Buffer.from(await (await fetch(`${server.origin}/api${item}/output`)).arrayBuffer());
  const first = await delivered();
  expect(first.indexOf(picture(9, 80))).toBeGreaterThan(first.indexOf('APIC'));
  const recipe = (await server.call<RecipeFile>('GET', `${item}/recipe`)).body;
  expect(recipe.notes).toMatchObject({ picture: { sha256: expect.stringMatching(/^[0-9a-f]{64}$/) } });

  // another cover since: what is made again from the recipe carries the old one still
  await put(picture(7, 200));
  const blobs = join(server.dataFolder, 'blobs');
  for (const name of await readdir(blobs)) await utimes(join(blobs, name), new Date(0), new Date(0));
  await server.call('POST', '/storage/clear-renders', { titleId: title.id });
  await server.call<Storage>('POST', '/storage/clear');
  expect((await server.call<Integrity>('POST', '/storage/check')).body).toMatchObject({ faults: [] });
  await server.call('POST', `/runs/${run.id}/remake`);
  await server.until<Run>(`/runs/${run.id}`, ({ status }) => status === 'finished');
  expect(Buffer.compare(await delivered(), first)).toBe(0);
});

it('says of itself what people said, each part by itself', async () => {
  const say = (details: object) => server.call<Title>('PATCH', `/titles/${title.id}`, { details });
  await Promise.all([say({ authors: ' Ines Marlow ' }), say({ year: 2026, language: 'de-AT' })]);
  const { body } = await say({ series: 'Tidewater' });
  expect(body.details).toMatchObject({
    authors: 'Ines Marlow',
    year: 2026,
    language: 'de-AT',
    series: 'Tidewater',
    copyright: '',
  });
  for (const wrong of [{ language: 'deutsch!' }, { year: 12 }, { isbn: '9' }])
    expect((await say(wrong)).status).toBe(422);
  expect((await server.call<Title>('GET', `/titles/${title.id}`)).body.details).toEqual(body.details);
});

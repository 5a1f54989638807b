import type { Chain, ChainSummary, Preset, Problem, Target, Title } from '@tonos/contract';
import { SHIPPED_PRESETS } from '@tonos/core';
import { TestServer } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

const gain = (gainDb: number) => ({ id: 'g', kind: 'gain', settings: { gainDb } });
const added = async (name: string) =>
  (await server.call<Chain>('POST', '/chains', { name, tags: ['booth'], notes: 'For tests.', steps: [gain(1)] })).body;

describe('chains', () => {
  it('are named, tagged, starred and archived; later revisions carry that on', async () => {
    const { id } = await added('First');
    const change = { name: 'Second', tags: ['van'], starred: true, archived: true };
    expect((await server.call<Chain>('PATCH', `/chains/${id}`, change)).body).toMatchObject({
      ...change,
      notes: 'For tests.',
    });
    await server.call('POST', `/chains/${id}/revisions`, { steps: [gain(2)] });
    expect((await server.call('GET', `/chains/${id}/revisions/2`)).body).toMatchObject({
      name: 'Second',
      tags: ['van'],
    });
    // what was kept before stays what it was
    expect((await server.call('GET', `/chains/${id}/revisions/1`)).body).toMatchObject({
      name: 'First',
      tags: ['booth'],
    });
    expect((await server.call('PATCH', `/chains/${id}`, { name: ' ' })).status).toBe(422);
  });

  it('say who kept a revision, and whose draft it is', async () => {
    const { id } = await added('Signed');
    await server.call('POST', `/chains/${id}/revisions`, { steps: [gain(2)], note: 'louder', author: 'Mara ' });
    await server.call('PUT', `/chains/${id}/draft`, { steps: [gain(3)], basedOn: 2, author: 'Jonas' });
    const { body } = await server.call<Chain>('GET', `/chains/${id}`);
    expect(body.revisions.map(({ note, author }) => [note, author])).toEqual([
      ['louder', 'Mara'],
      ['', ''],
    ]);
    expect(body.draft!.author).toBe('Jonas');
  });

  it('P1: a draft is written only by who saw the one that stands', async () => {
    const { id, version } = await added('Shared');
    const save = (seen: number | string, gainDb: number) =>
      server.call<Chain & Problem>(
        'PUT',
        `/chains/${id}/draft`,
        { steps: [gain(gainDb)], basedOn: 1, author: 'Jonas' },
        { 'if-match': `"${seen}"` },
      );
    const head = async () => (await fetch(`${server.origin}/api/chains/${id}`)).headers.get('etag');
    expect(await head()).toBe(`"${version}"`);
    const first = await save(version, 1);
    expect(first).toMatchObject({ status: 200, body: { version: version + 1 } });
    expect(await head()).toBe(`"${version + 1}"`);
    // the other one started from the same version
    const second = await save(version, 2);
    expect(second).toMatchObject({ status: 412, body: { code: 'changed-meanwhile', version: version + 1 } });
    expect(second.body.detail).toMatch(/Jonas changed "Shared" meanwhile/);
    expect(second.body.draft!.steps[0].settings).toEqual({ gainDb: 1 });
    expect((await save('nonsense', 2)).status).toBe(412);
    const drop = (seen: number) => server.call('DELETE', `/chains/${id}/draft`, undefined, { 'if-match': `"${seen}"` });
    expect((await drop(version)).status).toBe(412);
    expect((await server.call<Chain>('GET', `/chains/${id}`)).body.draft).not.toBeNull();
    expect((await drop(version + 1)).status).toBe(204);
    // a revision would end the draft of who wrote meanwhile
    await save(version + 2, 3);
    const keep = (seen: number) =>
      server.call<Problem>('POST', `/chains/${id}/revisions`, { steps: [gain(4)] }, { 'if-match': `"${seen}"` });
    expect(await keep(version + 2)).toMatchObject({ status: 412, body: { code: 'changed-meanwhile' } });
    expect((await drop(version + 3)).status).toBe(204);
    // a revision that is kept counts too; who says no version overwrites, as before
    await server.call('POST', `/chains/${id}/revisions`, { steps: [gain(4)] });
    expect((await save(version + 4, 5)).status).toBe(412);
    const bare = await server.call('PUT', `/chains/${id}/draft`, { steps: [gain(6)], basedOn: 2 });
    expect(bare.status).toBe(200);
  });

  it('are deleted only where nothing needs them', async () => {
    const [free, used] = [await added('Free'), await added('Used')];
    expect((await server.call('DELETE', `/chains/${free.id}`)).status).toBe(204);
    expect((await server.call('GET', `/chains/${free.id}`)).status).toBe(404);
    const title = (await server.call<Title>('POST', '/titles', { name: 'The Lock Keeper', kind: 'podcast' })).body;
    expect((await server.call('PATCH', `/titles/${title.id}`, { chainId: used.id })).status).toBe(200);
    const refused = await server.call<Problem>('DELETE', `/chains/${used.id}`);
    expect(refused).toMatchObject({ status: 409, body: { code: 'in-use' } });
    expect(refused.body.detail).toMatch(/The Lock Keeper.*Archive/);
    const { body: list } = await server.call<ChainSummary[]>('GET', '/chains');
    expect(list.find(({ id }) => id === used.id)!.usedBy).toMatchObject({
      titles: [{ name: 'The Lock Keeper' }],
      runs: 0,
    });
  });
});

describe('presets', () => {
  it('ship with the program, and people keep their own beside them', async () => {
    const mine = { kind: 'gain', name: 'Ours', tags: ['dynamic'], settings: { gainDb: 4 } };
    const { status, body } = await server.call<Preset>('POST', '/presets', mine);
    expect([status, body]).toMatchObject([201, { ...mine, shipped: false }]);
    const { body: all } = await server.call<Preset[]>('GET', '/presets');
    expect(all).toHaveLength(SHIPPED_PRESETS.length + 1);
    expect((await server.call<Preset>('PATCH', `/presets/${body.id}`, { settings: { gainDb: 5 } })).body).toMatchObject(
      {
        name: 'Ours',
        settings: { gainDb: 5 },
      },
    );
    expect((await server.call('DELETE', `/presets/${body.id}`)).status).toBe(204);
    expect((await server.call('DELETE', `/presets/${body.id}`)).status).toBe(404);
    expect((await server.call('DELETE', `/presets/${all[0].id}`)).status).toBe(409);
  });

  it('are refused where a setting is out of range, saying which', async () => {
    expect(
      await server.call('POST', '/presets', { kind: 'gain', name: 'Too much', settings: { gainDb: 99 } }),
    ).toMatchObject({
      status: 422,
      body: { setting: 'gainDb', minimum: -60, maximum: 60 },
    });
  });
});

describe('targets', () => {
  it('get versions: a change takes the old one\u2019s place, and what ships stays', async () => {
    const file = { name: 'House', limits: [{ measure: 'truePeakDbtp', max: -2 }], output: { container: 'wav' } };
    const { body: first } = await server.call<Target>('POST', '/targets', file);
    const title = (await server.call<Title>('POST', '/titles', { name: 'Low Water', kind: 'podcast' })).body;
    await server.call('PATCH', `/titles/${title.id}`, { targetId: first.id });
    const changed = { ...file, naming: '{track} {title}' };
    const { body: second } = await server.call<Target>('PUT', `/targets/${first.id}`, changed);
    expect(second).toMatchObject({ version: 2, naming: '{track} {title}', superseded: false });
    const { body: list } = await server.call<Target[]>('GET', '/targets');
    expect(list.filter(({ name }) => name === 'House').map(({ id }) => id)).toEqual([second.id]);
    expect((await server.call<Target>('GET', `/targets/${first.id}`)).body).toMatchObject({
      version: 1,
      superseded: true,
    });
    expect((await server.call<Title>('GET', `/titles/${title.id}`)).body.targetId).toBe(second.id);
    expect((await server.call('PUT', `/targets/${first.id}`, file)).status).toBe(409);
    expect((await server.call('DELETE', `/targets/${second.id}`)).status).toBe(409);
    const shipped = list.find((target) => target.shipped)!;
    for (const [method, body] of [
      ['PUT', file],
      ['DELETE', undefined],
    ] as const)
      expect((await server.call(method, `/targets/${shipped.id}`, body)).status).toBe(409);
    expect((await server.call('POST', '/targets', { ...file, naming: '{isbn}' })).status).toBe(422);
  });
});

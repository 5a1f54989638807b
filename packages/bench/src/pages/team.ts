import { Tonos } from '@tonos/e2e/tonos';
import type { Figure } from './figure.ts';

const PEOPLE = 200;
const CALLS = 2000;
const EVENTS = 20;

const p95 = (times: number[]): number => times.toSorted((a, b) => a - b)[Math.floor(0.95 * times.length)];

/** Milliseconds of a call, one after the other: the connection stays open. */
async function timesOf(address: string, headers: Record<string, string>): Promise<number[]> {
  const times: number[] = [];
  for (let k = 0; k < CALLS; k++) {
    const asked = performance.now();
    await (await fetch(address, { headers })).arrayBuffer();
    times.push(performance.now() - asked);
  }
  return times;
}

interface Signed {
  cookie: string;
  origin: string;
}

async function enter(origin: string, path: string, body: object): Promise<Signed> {
  const headers = { 'content-type': 'application/json', origin };
  const answer = await fetch(`${origin}/api${path}`, { method: 'POST', headers, body: JSON.stringify(body) });
  if (!answer.ok) throw new Error(await answer.text());
  return { cookie: answer.headers.getSetCookie()[0].split(';')[0], origin };
}

/** Two hundred people with a page open each, and what it costs to look who asks. */
export async function team(alone: Tonos): Promise<Figure[]> {
  const tonos = await Tonos.start({ demo: false, shared: true });
  try {
    const { origin } = tonos;
    const password = 'seven herons at low tide';
    const token = (url: string) => new URL(url).searchParams.get('token');
    const owner = await enter(origin, '/setup', { token: token(tonos.setUpUrl), name: 'Owner', password });
    const post = async (path: string, body: object) => {
      const headers = { ...(owner as unknown as Record<string, string>), 'content-type': 'application/json' };
      return (await fetch(`${origin}/api${path}`, { method: 'POST', headers, body: JSON.stringify(body) })).json();
    };
    const people: Signed[] = [];
    for (let k = 0; k < PEOPLE; k++) {
      const { url } = await post('/invitations', { role: 'engineer', titleIds: [] });
      people.push(await enter(origin, '/invitations/accept', { token: token(url), name: `Person ${k}`, password }));
    }
    // both in turns, so that what else the machine does is the same for both
    const signed: number[] = [];
    const plain: number[] = [];
    for (let round = 0; round < 3; round++) {
      plain.push(...(await timesOf(`${alone.origin}/api/chains`, {})));
      signed.push(...(await timesOf(`${origin}/api/chains`, { cookie: people[round].cookie })));
    }
    const came: number[] = [];
    let sent = 0;
    let heard = 0;
    const shut = new AbortController();
    for (const { cookie } of people) {
      const stream = await fetch(`${origin}/api/events`, { headers: { cookie }, signal: shut.signal });
      void (async () => {
        const decoder = new TextDecoder();
        try {
          for await (const chunk of stream.body as unknown as AsyncIterable<Uint8Array>)
            if (decoder.decode(chunk).includes('"type":"preset"')) {
              came.push(performance.now() - sent);
              heard++;
            }
        } catch {
          // it was shut
        }
      })();
    }
    for (let k = 1; k <= EVENTS; k++) {
      sent = performance.now();
      await post('/presets', { format: 'tonos.preset/1', kind: 'gain', name: `Up ${k}`, settings: {} });
      while (heard < k * PEOPLE && performance.now() - sent < 10_000)
        await new Promise((resolve) => setTimeout(resolve, 5));
    }
    const memory = tonos.peakMemoryBytes();
    shut.abort();
    const text = (milliseconds: number) => `${milliseconds.toFixed(1)} ms`;
    return [
      {
        what: `looking who asks: p95 of a call, alone and signed in (${3 * CALLS} each)`,
        wanted: '2 ms more at most',
        found: `${text(p95(plain))}, ${text(p95(signed))}`,
      },
      {
        what: `${PEOPLE} people with a page open: an event reaches all`,
        wanted: '1 s',
        found: `${heard} of ${EVENTS * PEOPLE}, the last after ${text(Math.max(...came))}`,
      },
      { what: 'and the most memory', wanted: '700 MB', found: `${Math.round(memory / 1e6)} MB` },
    ];
  } finally {
    await tonos.remove();
  }
}

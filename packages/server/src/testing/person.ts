import type { Role } from '@tonos/contract';
import type { Answer, TestServer } from './test-server.ts';

const PASSWORD = 'a lantern on the quay';

/** Somebody with a browser of their own: it keeps its cookie, and says where its page is from. */
export class TestPerson {
  cookie = '';
  id = '';

  constructor(
    private readonly server: TestServer,
    readonly name: string,
  ) {}

  /** The first owner. */
  static async owner(server: TestServer, name = 'Odile Brandt'): Promise<TestPerson> {
    const person = new TestPerson(server, name);
    const token = new URL(server.setUpUrl!).searchParams.get('token');
    await person.enter('/setup', { token, name, password: PASSWORD });
    return person;
  }

  /** Somebody whom this person invites. */
  async invites(name: string, role: Role, titleIds: string[] = []): Promise<TestPerson> {
    const { body } = await this.call<{ url: string }>('POST', '/invitations', { role, titleIds });
    const person = new TestPerson(this.server, name);
    const token = new URL(body.url).searchParams.get('token');
    await person.enter('/invitations/accept', { token, name, password: PASSWORD });
    return person;
  }

  async signIn(password = PASSWORD): Promise<Answer<{ person: { id: string } }>> {
    return this.call('POST', '/session', { name: this.name, password });
  }

  private async enter(path: string, body: object): Promise<void> {
    const answer = await this.call<{ person: { id: string } }>('POST', path, body);
    if (answer.status !== 201) throw new Error(JSON.stringify(answer.body));
    this.id = answer.body.person.id;
  }

  fetch(path: string, init: RequestInit = {}): Promise<Response> {
    const headers = {
      ...(this.cookie && { cookie: this.cookie }),
      origin: this.server.origin,
      ...(init.headers as Record<string, string>),
    };
    return fetch(`${this.server.origin}/api${path}`, { ...init, headers, redirect: 'manual' });
  }

  async call<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const isJson = body !== undefined && !(body instanceof FormData);
    const response = await this.fetch(path, {
      method,
      headers: { ...(isJson && { 'content-type': 'application/json' }), ...headers },
      body: isJson ? JSON.stringify(body) : (body as FormData | undefined),
    });
    const given = response.headers.getSetCookie()[0];
    if (given) this.cookie = given.split(';')[0];
    const text = await response.text();
    const type = response.headers.get('content-type') ?? '';
    return { status: response.status, type, body: (text && type.includes('json') ? JSON.parse(text) : text) as T };
  }
}

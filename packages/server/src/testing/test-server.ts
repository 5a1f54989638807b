import { mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { babble, mixed, noise } from '@tonos/core/testing';
import { ByteWriter, writeWav } from '@tonos/formats';
import { type RunningServer, type ServerOptions, startServer } from '../server.ts';

export interface Answer<T> {
  status: number;
  type: string;
  body: T;
}

/** A real server over a data folder of its own, with real threads; call it by HTTP. */
export class TestServer {
  private running: RunningServer | undefined;
  readonly errors: unknown[] = [];

  private constructor(
    readonly dataFolder: string,
    private readonly options: Partial<ServerOptions>,
  ) {}

  /** @param options what is otherwise than usual; `shared` is made by `startShared` */
  static async start(options: Partial<ServerOptions> = {}): Promise<TestServer> {
    const server = new TestServer(await mkdtemp(join(tmpdir(), 'tonos-server-test-')), options);
    await server.open();
    return server;
  }

  /** Over a data folder that is there. */
  static async over(dataFolder: string, options: Partial<ServerOptions>): Promise<TestServer> {
    const server = new TestServer(dataFolder, options);
    await server.open();
    return server;
  }

  /** For several people, under its own address on this machine. */
  static async startShared(options: Partial<ServerOptions> = {}): Promise<TestServer> {
    const port = await freePort();
    const shared = { origin: new URL(`http://127.0.0.1:${port}`), tls: null, proxies: [] };
    return TestServer.start({ port, shared, ...options });
  }

  get origin(): string {
    return `http://127.0.0.1:${this.running!.port}`;
  }

  get setUpUrl(): string | null {
    return this.running!.setUpUrl;
  }

  async open(): Promise<void> {
    this.running = await startServer({
      dataFolder: this.dataFolder,
      host: '127.0.0.1',
      port: 0,
      version: '0.0.0-test',
      threads: 2,
      inboxEveryMs: 250,
      roots: [join(this.dataFolder, 'inbox')],
      uploadLimits: { fileBytes: 4_000_000, files: 10 },
      // Jest's own module loader does not reach into threads: they run what was built
      workerFile: new URL('../../dist/workers/audio-worker.js', import.meta.url),
      report: (error) => this.errors.push(error),
      ...this.options,
    });
  }

  async close(): Promise<void> {
    await this.running?.close();
    this.running = undefined;
  }

  async remove(): Promise<void> {
    await this.close();
    await rm(this.dataFolder, { recursive: true });
  }

  async call<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const response = await fetch(`${this.origin}/api${path}`, {
      method,
      headers: {
        ...(body === undefined || body instanceof FormData ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      body:
        body === undefined || body instanceof FormData || typeof body === 'string'
          ? (body as FormData | string | undefined)
          : JSON.stringify(body),
    });
    const text = await response.text();
    return {
      status: response.status,
      type: response.headers.get('content-type') ?? '',
      body: (text ? JSON.parse(text) : undefined) as T,
    };
  }

  /** Asks until the answer is as wanted. */
  async until<T>(path: string, done: (body: T) => boolean, seconds = 110): Promise<T> {
    for (const end = Date.now() + 1000 * seconds; ; ) {
      const { body } = await this.call<T>('GET', path);
      if (done(body)) return body;
      if (Date.now() > end)
        throw new Error(`${path} did not come to what was waited for: ${JSON.stringify(body).slice(0, 500)}`);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
}

export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer().once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

/** A short voice as a WAV file. */
export function voiceFile(name: string, seconds = 4, seed = 7): Promise<File> {
  const rate = 22050;
  return wavFile(
    name,
    mixed(babble(seconds, rate, seed), noise(0.0005, seconds, rate)).map((x) => 0.2 * x),
    rate,
  );
}

/** Samples as a WAV of 16 bits that can be sent. */
export async function wavFile(name: string, samples: Float32Array, rate: number): Promise<File> {
  const folder = await mkdtemp(join(tmpdir(), 'tonos-voice-'));
  const path = join(folder, 'voice.wav');
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz: rate, channels: 1 }, bitDepth: 16 });
  await writer.write([samples]);
  await writer.finish();
  await bytes.close();
  const { readFile } = await import('node:fs/promises');
  const content = await readFile(path);
  await rm(folder, { recursive: true });
  return new File([content], name);
}

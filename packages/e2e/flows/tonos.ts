import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { babble, mixed, noise } from '@tonos/core/testing';
import { ByteWriter, writeWav } from '@tonos/formats';

const project = join(import.meta.dirname, '../../..');

interface TonosOptions {
  demo: boolean;
  /** Files may be brought in from the folder `inbox`. */
  inbox?: boolean;
  /** The data folder lies on a disk of its own of this size, in memory, which only the server sees; it goes with a restart. */
  diskMegabytes?: number;
  /** Several people sign in. */
  shared?: boolean;
  /** Set for the server besides. */
  env?: Record<string, string>;
}

/** The built server as people run it, on a data folder of its own that outlives a restart. */
export class Tonos {
  private process: ChildProcess | undefined;
  private readonly workers: ChildProcess[] = [];
  origin = '';
  /** By which the first owner is made. */
  setUpUrl = '';

  private constructor(
    readonly folder: string,
    private readonly options: TonosOptions,
  ) {}

  static async start(options: TonosOptions): Promise<Tonos> {
    const tonos = new Tonos(await mkdtemp(join(tmpdir(), 'tonos-flow-')), options);
    await tonos.open();
    return tonos;
  }

  /** Keeps its port over a restart, as an installation does. */
  async open(): Promise<void> {
    const { shared } = this.options;
    const port = this.origin ? new URL(this.origin).port : shared ? String(await freePort()) : '0';
    const env = {
      ...process.env,
      TONOS_PORT: port,
      TONOS_DATA: join(this.folder, 'data'),
      TONOS_DEMO: this.options.demo ? '1' : '0',
      ...(shared && { TONOS_SHARED: '1', TONOS_ORIGIN: `http://127.0.0.1:${port}` }),
      TONOS_ROOTS: this.options.inbox ? join(this.folder, 'inbox') : '',
      ...this.options.env,
    };
    const program = [process.execPath, join(project, 'packages/server/dist/main.js')];
    if (this.options.diskMegabytes) {
      await mkdir(env.TONOS_DATA);
      const mounted = `mount -t tmpfs -o size=${this.options.diskMegabytes}m tmpfs "$TONOS_DATA" && exec "$@"`;
      program.unshift('unshare', '--user', '--map-root-user', '--mount', 'sh', '-c', mounted, 'sh');
    }
    this.process = spawn(program[0], program.slice(1), {
      env,
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.origin = await new Promise((resolve, reject) => {
      let said = '';
      this.process!.stdout!.on('data', (text) => {
        said += text;
        const address = /ready: (http:\/\/\S+)/.exec(said);
        this.setUpUrl = /Set up: (\S+)/.exec(said)?.[1] ?? '';
        if (address) resolve(address[1]);
      });
      this.process!.once('exit', (code) => reject(new Error(`The server ended with ${code}: ${said}`)));
    });
  }

  /** @returns the exit code */
  async close(signal: NodeJS.Signals = 'SIGTERM'): Promise<number | null> {
    const ended = new Promise<number | null>((resolve) => this.process!.once('exit', resolve));
    this.process!.kill(signal);
    return ended;
  }

  /** The data folder, on its own disk too. */
  get dataSeenFromHere(): string {
    const data = join(this.folder, 'data');
    return this.options.diskMegabytes ? join(`/proc/${this.process!.pid}/root`, data) : data;
  }

  /** The most memory that the server held. */
  peakMemoryBytes(): number {
    const status = readFileSync(`/proc/${this.process!.pid}/status`, 'utf8');
    return 1024 * Number(/VmHWM:\s+(\d+)/.exec(status)![1]);
  }

  /** Processor time of the server until now. */
  cpuSeconds(): number {
    const [user, system] = readFileSync(`/proc/${this.process!.pid}/stat`, 'utf8').split(') ')[1].split(' ').slice(11);
    return (Number(user) + Number(system)) / 100;
  }

  /** A machine of one thread that works along, as people run it. */
  worker(name: string, token: string, env: Record<string, string> = {}): ChildProcess {
    const worker = spawn(process.execPath, [join(project, 'packages/server/dist/worker.js')], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: {
        ...process.env,
        TONOS_SERVER: this.origin,
        TONOS_WORKER_TOKEN: token,
        TONOS_WORKER_THREADS: '1',
        TONOS_WORKER_NAME: name,
        TONOS_WORKER_CACHE: join(this.folder, name),
        ...env,
      },
    });
    this.workers.push(worker);
    return worker;
  }

  async remove(): Promise<void> {
    for (const worker of this.workers) if (worker.exitCode === null) worker.kill('SIGKILL');
    if (this.process?.exitCode === null) await this.close();
    await rm(this.folder, { recursive: true });
  }

  /** A voice as a WAV file on disk. */
  voice(name: string, seconds: number, seed: number): Promise<string> {
    const rate = 44100;
    return this.wav(
      name,
      rate,
      mixed(babble(seconds, rate, seed), noise(0.0004, seconds, rate)).map((x) => 0.15 * x),
    );
  }

  /** Samples of one channel as a WAV file on disk, exact. */
  async wav(name: string, sampleRateHz: number, samples: Float32Array): Promise<string> {
    const path = join(this.folder, name);
    const bytes = await ByteWriter.create(path);
    const writer = await writeWav(bytes, { format: { sampleRateHz, channels: 1 }, bitDepth: 32 });
    await writer.write([samples]);
    await writer.finish();
    await bytes.close();
    return path;
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer().once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

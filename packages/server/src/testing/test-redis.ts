import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { Redis } from 'ioredis';
import { freePort } from './test-server.ts';

const PROGRAM = '/usr/bin/redis-server';

/** A Redis of its own, that can go and come back. */
export class TestRedis {
  private process: ChildProcess | undefined;

  private constructor(private readonly port: number) {}

  static async start(): Promise<TestRedis> {
    const redis = new TestRedis(await freePort());
    await redis.open();
    return redis;
  }

  get url(): string {
    return `redis://127.0.0.1:${this.port}`;
  }

  async open(): Promise<void> {
    this.process = spawn(PROGRAM, ['--port', String(this.port), '--save', '', '--appendonly', 'no'], {
      stdio: 'ignore',
    });
    await this.ask((redis) => redis.ping());
  }

  /** All that it holds goes. */
  async close(): Promise<void> {
    this.process!.kill('SIGKILL');
    await once(this.process!, 'exit');
  }

  empty(): Promise<unknown> {
    return this.ask((redis) => redis.flushall());
  }

  async ask<T>(work: (redis: Redis) => Promise<T>): Promise<T> {
    const redis = new Redis(this.url, { retryStrategy: () => 100, maxRetriesPerRequest: null });
    redis.on('error', () => {}); // it is not there yet
    try {
      return await work(redis);
    } finally {
      redis.disconnect();
    }
  }
}

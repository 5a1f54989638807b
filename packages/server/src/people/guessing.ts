import { isIPv6 } from 'node:net';
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';
import { HttpProblem } from '../http/problems.ts';

const WITHIN_SECONDS = 15 * 60;
const WRONG_FOR_A_NAME = 5;
const WRONG_FROM_AN_ADDRESS = 20;

/** Somebody who has an IPv6 address has a whole network of them. */
export function networkOf(address: string): string {
  if (!isIPv6(address) || address.startsWith('::ffff:')) return address;
  const [head, tail = ''] = address.split('::');
  const [before, after] = [head.split(':').filter(Boolean), tail.split(':').filter(Boolean)];
  const groups = [...before, ...Array<string>(Math.max(0, 8 - before.length - after.length)).fill('0'), ...after];
  return `${groups.slice(0, 4).join(':')}::/64`;
}

/** Counts wrong tries to sign in, for each name and from each address. */
export class Guessing {
  private readonly names = new RateLimiterMemory({ points: WRONG_FOR_A_NAME, duration: WITHIN_SECONDS });
  private readonly addresses = new RateLimiterMemory({ points: WRONG_FROM_AN_ADDRESS, duration: WITHIN_SECONDS });

  /**
   * Tries a password. It counts as wrong until it was right, so that many at once are no way round.
   * @param nameKey undefined where the name is not to be counted: of somebody who is signed in under it already
   * @throws HttpProblem 429 after too many wrong ones
   */
  async counted<T>(nameKey: string | undefined, address: string, attempt: () => Promise<T | null>): Promise<T | null> {
    const network = networkOf(address);
    await spend(this.addresses, network);
    if (nameKey !== undefined)
      await spend(this.names, nameKey).catch(async (error) => {
        await this.addresses.reward(network, 1);
        throw error;
      });
    const right = await attempt();
    if (right === null) return null;
    await this.addresses.reward(network, 1);
    if (nameKey !== undefined) await this.names.delete(nameKey);
    return right;
  }
}

async function spend(limiter: RateLimiterMemory, key: string): Promise<void> {
  try {
    await limiter.consume(key);
  } catch (error) {
    if (!(error instanceof RateLimiterRes)) throw error;
    // what was not tried was no wrong try
    await limiter.reward(key, 1);
    throw tooMany(error, 'Too many wrong tries to sign in.');
  }
}

/** @param what happened, as a sentence */
export function tooMany({ msBeforeNext }: { msBeforeNext: number }, what: string): HttpProblem {
  const seconds = Math.max(1, Math.ceil(msBeforeNext / 1000));
  const wait = seconds < 90 ? `${seconds} s` : `${Math.ceil(seconds / 60)} min`;
  return new HttpProblem(429, 'too-many', `${what} Try again in ${wait}.`, { retryAfterSeconds: seconds });
}

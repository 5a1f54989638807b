import { Worker } from 'bullmq';
import { Redis } from 'ioredis';
import type { Bell } from './bell.ts';

/** Rings where a ticket comes from the queue. @returns what ends it */
export function listenToQueue(
  url: string,
  queue: string,
  bell: Bell,
  say: (line: string) => void,
): () => Promise<void> {
  let isAway = false;
  const away = () => {
    if (!isAway) say('The queue is away: the server is asked instead.');
    isAway = true;
  };
  const connection = new Redis(url, { maxRetriesPerRequest: null, retryStrategy: () => 1000 });
  connection.on('error', away);
  connection.on('ready', () => {
    if (isAway) say('The queue is back.');
    isAway = false;
  });
  // a ticket is kept until a thread is free: others can have the next one
  const worker = new Worker(queue, () => bell.ringOnce(), { connection, removeOnComplete: { count: 0 } });
  worker.on('error', away);
  return async () => {
    // a ticket that is held says nothing that the next one does not
    await Promise.race([worker.close(true), new Promise((resolve) => setTimeout(resolve, 2000).unref())]);
    connection.disconnect();
  };
}

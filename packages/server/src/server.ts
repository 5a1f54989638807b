import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { TonosError } from '@tonos/core';
import { ChainService } from './chains/chain-service.ts';
import { chainRoutes } from './chains/routes.ts';
import { Database } from './database/database.ts';
import { loadDemo } from './demo/load-demo.ts';
import { EventBus } from './events/event-bus.ts';
import { eventRoutes } from './events/routes.ts';
import { createApp } from './http/app.ts';
import { InboxService } from './inbox/inbox-service.ts';
import { OrderService } from './orders/order-service.ts';
import { orderRoutes } from './orders/routes.ts';
import { PresetService } from './presets/preset-service.ts';
import { presetRoutes } from './presets/routes.ts';
import { GapsService } from './recordings/gaps-service.ts';
import { LedgerService } from './recordings/ledger-service.ts';
import { Measuring } from './recordings/measuring.ts';
import type { UploadLimits } from './recordings/receive-files.ts';
import { RecordingService } from './recordings/recording-service.ts';
import { ResumableUploads } from './recordings/resumable-uploads.ts';
import { recordingRoutes } from './recordings/routes.ts';
import { ServerFolders } from './recordings/server-folders.ts';
import { SightService } from './recordings/sight-service.ts';
import { ForecastService } from './runs/forecast-service.ts';
import { OrderForecast } from './runs/order-forecast.ts';
import { OrderLedgerService } from './runs/order-ledger-service.ts';
import { RemedyService } from './runs/remedy-service.ts';
import { runRoutes } from './runs/routes.ts';
import { RunService } from './runs/run-service.ts';
import { RunWorker } from './runs/run-worker.ts';
import { setRoutes } from './sets/routes.ts';
import { SetService } from './sets/set-service.ts';
import { standingRoutes } from './standing/routes.ts';
import { StandingService } from './standing/standing-service.ts';
import { TodayService } from './standing/today-service.ts';
import { BlobStore } from './storage/blob-store.ts';
import { lockFolder } from './storage/folder-lock.ts';
import { realSurroundings, type Surroundings } from './surroundings.ts';
import { targetRoutes } from './targets/routes.ts';
import { TargetService } from './targets/target-service.ts';
import { thumbIndexRoutes } from './thumb-index/routes.ts';
import { ThumbIndex } from './thumb-index/thumb-index.ts';
import { titleRoutes } from './titles/routes.ts';
import { TitleService } from './titles/title-service.ts';
import { storageRoutes, trashRoutes } from './upkeep/routes.ts';
import { StorageService } from './upkeep/storage-service.ts';
import { TrashService } from './upkeep/trash-service.ts';
import { Dispatcher } from './workers/dispatcher.ts';
import { OneAtATime } from './workers/one-at-a-time.ts';
import { WorkerPool } from './workers/worker-pool.ts';

export interface ServerOptions {
  dataFolder: string;
  host: string;
  /** 0 takes any free one. */
  port: number;
  version: string;
  threads: number;
  /** The built page. */
  webFolder?: string;
  /** Demo recordings, loaded where the data folder holds no title yet. */
  demoFolder?: string;
  uploadLimits: UploadLimits;
  /** Folders that files may be brought in from. */
  roots?: readonly string[];
  report(error: unknown): void;
  surroundings?: Surroundings;
  /** How often watched folders are looked into. */
  inboxEveryMs?: number;
  /** The threads' program, where it is not the one beside the pool. */
  workerFile?: URL;
}

const INBOX_EVERY_MS = 5000;

export interface RunningServer {
  port: number;
  close(): Promise<void>;
}

const THIS_MACHINE = ['127.0.0.1', 'localhost'];

/** Whoever reaches the port may do everything, and a browser that is no guest of this machine gets no sound: not on a network, as it is. */
function checkHost(host: string): void {
  if (!THIS_MACHINE.includes(host))
    throw new TonosError(
      'network-address',
      `TONOS_HOST is ${host}, which others on the network reach. Tonos answers on this machine only: leave TONOS_HOST out.`,
    );
}

/**
 * Puts all parts together over a data folder and listens.
 * @throws TonosError `folder-in-use`, `network-address`, before anything is touched
 */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  checkHost(options.host);
  const lock = await lockFolder(options.dataFolder);
  try {
    return await startIn(options, lock);
  } catch (error) {
    lock.release();
    throw error;
  }
}

async function startIn(options: ServerOptions, lock: { release(): void }): Promise<RunningServer> {
  const surroundings = options.surroundings ?? realSurroundings;
  const store = await BlobStore.open(options.dataFolder);
  const database = await Database.open(options.dataFolder);
  const bus = new EventBus();
  const titles = new TitleService(database, store, bus, surroundings);
  const recordings = new RecordingService(database, store, bus, surroundings);
  const measuring = new Measuring(database, store, bus, surroundings, options.report);
  const chains = new ChainService(database, bus, surroundings);
  const orders = new OrderService(database, bus, surroundings);
  const targets = new TargetService(database, bus, surroundings);
  const presets = new PresetService(database, bus, surroundings);
  const index = new ThumbIndex(database, bus, surroundings);
  const runs = new RunService(database, bus, surroundings, {
    folder: options.dataFolder,
    threads: options.threads,
  });
  const worker = new RunWorker(database, store, bus, runs, surroundings, options.version, options.report);
  const pool = new WorkerPool(options.threads, options.workerFile, { background: true });
  const sightPool = new WorkerPool(1, options.workerFile);
  const sight = new SightService(recordings, new OneAtATime(sightPool));
  const ledgerPool = new WorkerPool(1, options.workerFile);
  const ledgerQueue = new OneAtATime(ledgerPool);
  const ledgers = new LedgerService(recordings, store, ledgerQueue);
  const gaps = new GapsService(recordings, store, ledgerQueue);
  const forecasts = new ForecastService({ runs, recordings, store, queue: ledgerQueue, threads: options.threads });
  // a remedy takes as long as a few renders: nobody who waits for a ledger waits for one
  const remedyPool = new WorkerPool(1, options.workerFile, { background: true });
  const remedyQueue = new OneAtATime(remedyPool);
  const remedies = new RemedyService({ database, runs, recordings, store, queue: remedyQueue, bus });
  // so does a programme of an hour: pictures and meters stay quick meanwhile
  const orderPool = new WorkerPool(1, options.workerFile, { background: true });
  const orderQueue = new OneAtATime(orderPool);
  const orderForecasts = new OrderForecast({ database, store, queue: orderQueue, threads: options.threads });
  const orderLedgers = new OrderLedgerService(database, store, orderQueue);
  const sets = new SetService({ database, store, bus, surroundings, queue: ledgerQueue });
  const folders = new ServerFolders(options.roots ?? [], store);
  const dispatcher = new Dispatcher(pool, [measuring, worker], options.report);
  const nudge = () => dispatcher.nudge();

  const inbox = new InboxService({ database, recordings, folders, runs, nudge, report: options.report });

  const storage = new StorageService(database, store);
  const trash = new TrashService({ database, recordings, storage, bus, surroundings });
  const standing = new StandingService(database, bus);
  const today = new TodayService({
    database,
    runs,
    standing,
    folder: options.dataFolder,
    trashBytes: () => trash.bytes(),
    whyNotRun: (titleId) => inbox.whyNotRun(titleId),
    surroundings,
  });

  await targets.loadShipped();
  await worker.recover();
  await measuring.recover();
  if (options.demoFolder)
    await loadDemo(options.demoFolder, { store, titles, recordings, chains, orders, targets, runs, presets, index });

  const uploads = await ResumableUploads.open({
    recordings,
    store,
    largestBytes: options.uploadLimits.fileBytes,
    nudge,
    report: options.report,
  });
  const app = createApp({
    version: options.version,
    webFolder: options.webFolder,
    report: options.report,
    features: (router) => {
      titleRoutes(router, titles);
      uploads.serve(router);
      recordingRoutes(router, {
        recordings,
        sight,
        ledgers,
        gaps,
        folders,
        store,
        limits: options.uploadLimits,
        nudge,
      });
      setRoutes(router, sets);
      chainRoutes(router, chains);
      orderRoutes(router, orders);
      presetRoutes(router, presets);
      thumbIndexRoutes(router, index);
      targetRoutes(router, targets);
      runRoutes(router, {
        runs,
        titles,
        forecasts,
        orderForecasts,
        orderLedgers,
        remedies,
        worker,
        recordings,
        store,
        folders,
        version: options.version,
        now: surroundings.now,
        nudge,
      });
      storageRoutes(router, storage);
      trashRoutes(router, trash);
      standingRoutes(router, standing, today);
      eventRoutes(router, bus);
    },
  });
  const http = createServer(app);
  // a ten-hour upload over a slow line is no attack
  http.requestTimeout = 0;
  // longer than clients keep a connection: one that is closed while a call is on its way fails that call
  http.keepAliveTimeout = 75_000;
  await new Promise<void>((resolve, reject) => {
    http.once('error', reject);
    http.listen(options.port, options.host, resolve);
  });
  nudge();
  inbox.watch(options.inboxEveryMs ?? INBOX_EVERY_MS);

  return {
    port: (http.address() as AddressInfo).port,
    close: async () => {
      const closed = new Promise((resolve) => http.close(resolve));
      uploads.close();
      await inbox.stop();
      measuring.interrupt();
      worker.interrupt();
      await dispatcher.stop();
      http.closeAllConnections();
      await closed;
      await pool.close();
      await sightPool.close();
      await ledgerPool.close();
      await remedyPool.close();
      await orderPool.close();
      await database.close();
      lock.release();
    },
  };
}

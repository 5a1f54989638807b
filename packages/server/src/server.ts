import { createServer } from 'node:http';
import { createServer as createTlsServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { ROUTES } from '@tonos/contract';
import { TonosError } from '@tonos/core';
import type { Logger } from 'pino';
import { AccountService } from './account/account-service.ts';
import { accountRoutes } from './account/routes.ts';
import { ChainService } from './chains/chain-service.ts';
import { chainRoutes } from './chains/routes.ts';
import { Database } from './database/database.ts';
import { loadDemo } from './demo/load-demo.ts';
import { EventBus } from './events/event-bus.ts';
import { eventRoutes } from './events/routes.ts';
import { LOOPBACK, type SharedAddress } from './http/address.ts';
import { createApp } from './http/app.ts';
import { InboxService } from './inbox/inbox-service.ts';
import { JobStore } from './jobs/job-store.ts';
import { LocalWork } from './jobs/local-work.ts';
import { type Doorbell, noDoorbell } from './machines/doorbell.ts';
import { Incoming } from './machines/incoming.ts';
import { MachineService } from './machines/machine-service.ts';
import { machineRoutes } from './machines/routes.ts';
import { WorkerTokens } from './machines/worker-tokens.ts';
import { ModuleService } from './modules/module-service.ts';
import { moduleRoutes } from './modules/routes.ts';
import { NoteService } from './notes/note-service.ts';
import { noteRoutes } from './notes/routes.ts';
import { OrderService } from './orders/order-service.ts';
import { orderRoutes } from './orders/routes.ts';
import { ExchangeFolder } from './outside/exchange-folder.ts';
import { OutsideService } from './outside/outside-service.ts';
import { outsideRoutes } from './outside/routes.ts';
import { Credentials } from './people/credentials.ts';
import { Doors } from './people/doors.ts';
import { Endings } from './people/endings.ts';
import { GateAlone, GateShared, SessionCookie } from './people/gate.ts';
import { Guessing } from './people/guessing.ts';
import { People } from './people/people.ts';
import { PresenceList } from './people/presence.ts';
import { Provider, type ProviderOptions } from './people/provider.ts';
import { quotaOf } from './people/quota.ts';
import { meRoutes, peopleRoutes } from './people/routes.ts';
import { PresetService } from './presets/preset-service.ts';
import { presetRoutes } from './presets/routes.ts';
import { GapsService } from './recordings/gaps-service.ts';
import { LedgerService } from './recordings/ledger-service.ts';
import { MeasureJobs } from './recordings/measure-jobs.ts';
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
import { RenderJobs } from './runs/render-jobs.ts';
import { runRoutes } from './runs/routes.ts';
import { RunService } from './runs/run-service.ts';
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
  /** Of these, how many do jobs; with none all is left to other machines. */
  localThreads?: number;
  /** The built page. */
  webFolder?: string;
  /** Demo recordings, loaded where the data folder holds no title yet. */
  demoFolder?: string;
  uploadLimits: UploadLimits;
  /** Where several people reach it; without it one works alone. */
  shared?: SharedAddress | null;
  /** The house's own sign-in, where several people work. */
  provider?: ProviderOptions | null;
  /** Whether passwords are a way in; without a provider they always are. */
  passwords?: boolean;
  /** So much each person may send, where several work; none: as much as there is room for. */
  quotaBytes?: number;
  /** Where sound goes out to other programs, and comes back; left out: in the data folder. */
  exchangeFolder?: string;
  /** Folders that files may be brought in from. */
  roots?: readonly string[];
  report(error: unknown): void;
  /** Takes a line for each call. */
  logger?: Logger;
  surroundings?: Surroundings;
  /** How often watched folders are looked into. */
  inboxEveryMs?: number;
  /** The Redis by which machines that work along are told of work; without one they ask. */
  queueUrl?: string;
  /** The threads' program, where it is not the one beside the pool. */
  workerFile?: URL;
}

const INBOX_EVERY_MS = 5000;
/** Who brings a file back waits for it. */
const EXCHANGE_EVERY_MS = 500;

export interface RunningServer {
  port: number;
  /** The address by which the first owner is made, where several are to work and there is none. */
  setUpUrl: string | null;
  close(): Promise<void>;
}

/** Where one works alone, whoever reaches the port may do everything: not on a network. */
function checkHost(host: string): void {
  if (!LOOPBACK.includes(host))
    throw new TonosError(
      'network-address',
      `TONOS_HOST is ${host}, which others on the network reach. Leave it out to work alone on this machine, or set TONOS_SHARED=1 so that people sign in.`,
    );
}

/**
 * Puts all parts together over a data folder and listens.
 * @throws TonosError `folder-in-use`, `network-address`, before anything is touched
 */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  if (!options.shared) checkHost(options.host);
  const lock = await lockFolder(options.dataFolder);
  try {
    return await startIn(options, lock);
  } catch (error) {
    lock.release();
    throw error;
  }
}

/** The queue's packages are loaded only where there is one. */
async function doorbellOf({ queueUrl, dataFolder }: ServerOptions, jobs: JobStore): Promise<Doorbell> {
  if (!queueUrl) return noDoorbell;
  const { QueueDoorbell } = await import('./machines/queue-doorbell.ts');
  return QueueDoorbell.open(queueUrl, dataFolder, jobs);
}

async function startIn(options: ServerOptions, lock: { release(): void }): Promise<RunningServer> {
  const surroundings = options.surroundings ?? realSurroundings;
  const store = await BlobStore.open(options.dataFolder);
  const database = await Database.open(options.dataFolder);
  const bus = new EventBus();
  const shared = options.shared ?? null;
  const endings = new Endings();
  const credentials = new Credentials(database, surroundings, endings);
  const people = new People(database, bus, credentials, surroundings);
  const account = new AccountService(database, surroundings);
  const guessing = new Guessing();
  const cookie = new SessionCookie(shared?.origin.protocol === 'https:');
  await people.load();
  await credentials.load();
  const titles = new TitleService(database, store, bus, surroundings, (...closing) => people.setClosed(...closing));
  const recordings = new RecordingService(database, store, bus, surroundings);
  const chains = new ChainService(database, bus, surroundings);
  const orders = new OrderService(database, bus, surroundings);
  const targets = new TargetService(database, bus, surroundings);
  const presets = new PresetService(database, bus, surroundings);
  const index = new ThumbIndex(database, bus, surroundings);
  const runs = new RunService(database, bus, surroundings, {
    folder: options.dataFolder,
    threads: options.threads,
  });
  const { version, report } = options;
  const measures = new MeasureJobs(database, store, bus, surroundings);
  const renders = new RenderJobs({ database, store, bus, runs, surroundings, version, report });
  const jobs = new JobStore({ database, surroundings, kinds: [measures, renders], report, nudge: () => nudge() });
  const doorbell = await doorbellOf(options, jobs);
  const incoming = new Incoming(store);
  const workerTokens = new WorkerTokens(database, surroundings);
  const threads = options.localThreads ?? options.threads;
  const machines = new MachineService({
    ...{ database, jobs, incoming, doorbell, surroundings, version, threads },
    nudge: () => nudge(),
  });
  const work = new LocalWork(jobs, store);
  const pathOf = (sha256: string) => store.pathOf(sha256);
  const pool = new WorkerPool(threads, options.workerFile, { background: true, pathOf });
  const sightPool = new WorkerPool(1, options.workerFile);
  const sight = new SightService(recordings, new OneAtATime(sightPool));
  const ledgerPool = new WorkerPool(1, options.workerFile, { pathOf });
  const ledgerQueue = new OneAtATime(ledgerPool);
  const modules = new ModuleService({ database, store, bus, surroundings, queue: ledgerQueue });
  const ledgers = new LedgerService(recordings, store, ledgerQueue);
  const gaps = new GapsService(recordings, store, ledgerQueue);
  const forecasts = new ForecastService({ runs, recordings, store, queue: ledgerQueue, threads: options.threads });
  // a remedy takes as long as a few renders: nobody who waits for a ledger waits for one
  const remedyPool = new WorkerPool(1, options.workerFile, { background: true, pathOf });
  const remedyQueue = new OneAtATime(remedyPool);
  const remedies = new RemedyService({ database, runs, recordings, store, queue: remedyQueue, bus });
  // so does a programme of an hour: pictures and meters stay quick meanwhile
  const orderPool = new WorkerPool(1, options.workerFile, { background: true, pathOf });
  const orderQueue = new OneAtATime(orderPool);
  const orderForecasts = new OrderForecast({ database, store, queue: orderQueue, threads: options.threads });
  const orderLedgers = new OrderLedgerService(database, store, orderQueue);
  const sets = new SetService({ database, store, bus, surroundings, queue: ledgerQueue });
  const folders = new ServerFolders(options.roots ?? [], store);
  const dispatcher = new Dispatcher(pool, [work], report);
  const nudge = () => {
    jobs.noteWork();
    dispatcher.nudge();
    doorbell.ring();
  };

  const inbox = new InboxService({ database, recordings, folders, runs, sets, nudge, report: options.report });

  const outside = new OutsideService({
    ...{ database, store, bus, recordings, surroundings, queue: orderQueue, nudge, report },
    largestBytes: options.uploadLimits.fileBytes,
    folder: new ExchangeFolder(
      options.exchangeFolder ?? join(options.dataFolder, 'exchange'),
      options.exchangeFolder === undefined,
    ),
  });
  const storage = new StorageService(database, store, bus);
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
  await modules.load();
  await jobs.recover(await machines.standing());
  if (options.demoFolder)
    await loadDemo(options.demoFolder, {
      store,
      titles,
      recordings,
      chains,
      orders,
      targets,
      runs,
      presets,
      index,
      modules,
    });

  const checkQuota = quotaOf(recordings, shared ? options.quotaBytes : undefined);
  const origin = shared?.origin.origin ?? '';
  const doors = new Doors({ database, people, guessing, surroundings, origin });
  const uploads = await ResumableUploads.open({
    recordings,
    checkQuota,
    store,
    largestBytes: options.uploadLimits.fileBytes,
    nudge,
    report: options.report,
  });
  const app = createApp({
    version: options.version,
    webFolder: options.webFolder,
    shared,
    tell: (...what) => account.tell(...what),
    mark: () => bus.mark,
    workerToken: (secret) => workerTokens.find(secret),
    gate: shared ? new GateShared({ database, people, credentials, cookie }) : new GateAlone(people),
    report: options.report,
    logger: options.logger,
    features: (calls) => {
      titleRoutes(calls, titles);
      uploads.serve(calls);
      meRoutes(calls, { people, credentials, guessing, shared: shared !== null });
      const presence = new PresenceList(people, bus, surroundings);
      const back = `${origin}${ROUTES.fromProvider.path}`;
      const provider = options.provider ? new Provider(options.provider, back) : null;
      const passwords = !provider || options.passwords !== false;
      peopleRoutes(calls, { people, credentials, doors, cookie, account, presence, provider, passwords });
      accountRoutes(calls, account);
      noteRoutes(calls, new NoteService(database, people, bus, surroundings));
      recordingRoutes(calls, {
        recordings,
        sight,
        ledgers,
        gaps,
        folders,
        store,
        limits: options.uploadLimits,
        nudge,
        checkQuota,
      });
      setRoutes(calls, sets);
      chainRoutes(calls, chains);
      orderRoutes(calls, orders);
      presetRoutes(calls, presets);
      moduleRoutes(calls, modules);
      outsideRoutes(calls, outside);
      thumbIndexRoutes(calls, index);
      targetRoutes(calls, targets);
      runRoutes(calls, {
        runs,
        titles,
        forecasts,
        orderForecasts,
        orderLedgers,
        remedies,
        work,
        recordings,
        sight,
        store,
        folders,
        version: options.version,
        now: surroundings.now,
        nudge,
      });
      storageRoutes(calls, storage);
      trashRoutes(calls, trash);
      machineRoutes(calls, { machines, tokens: workerTokens, incoming, store });
      standingRoutes(calls, standing, today);
      eventRoutes(calls, bus, (id, shut) => endings.watch(id, shut));
    },
  });
  const http = shared?.tls ? createTlsServer({ ...shared.tls, minVersion: 'TLSv1.2' }, app) : createServer(app);
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
  await outside.watch(EXCHANGE_EVERY_MS);

  return {
    port: (http.address() as AddressInfo).port,
    setUpUrl: shared ? doors.openSetUp() : null,
    close: async () => {
      const closed = new Promise((resolve) => http.close(resolve));
      uploads.close();
      await inbox.stop();
      await outside.stop();
      work.interrupt();
      jobs.stop();
      await doorbell.close();
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

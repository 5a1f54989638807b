import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ChainService } from '../chains/chain-service.ts';
import { Database } from '../database/database.ts';
import { EventBus } from '../events/event-bus.ts';
import { JobStore } from '../jobs/job-store.ts';
import { LocalWork } from '../jobs/local-work.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { RecordingService } from '../recordings/recording-service.ts';
import { BlobStore } from '../storage/blob-store.ts';
import { realSurroundings } from '../surroundings.ts';
import { TargetService } from '../targets/target-service.ts';
import { TitleService } from '../titles/title-service.ts';
import { RenderJobs } from './render-jobs.ts';
import { RunItemEntity } from './run-entity.ts';
import { RunService } from './run-service.ts';

/** P16: what is told between the lease of an item and the start of its thread reaches it. */

let folder: string;
let database: Database;
let runs: RunService;
let work: LocalWork;
let runId: string;
/** The folder for an attempt's spools is made when the test says so. */
let makeFolder: () => void;
let asked: Promise<void>;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-between-'));
  database = await Database.open(folder);
  const store = await BlobStore.open(folder);
  const bus = new EventBus();
  const report = () => {};
  const recordings = new RecordingService(database, store, bus, realSurroundings);
  runs = new RunService(database, bus, realSurroundings, { folder, threads: 1 });
  const targets = new TargetService(database, bus, realSurroundings);
  await targets.loadShipped();
  const chain = await new ChainService(database, bus, realSurroundings).add({
    format: 'tonos.chain/1',
    name: 'None',
    tags: [],
    notes: '',
    steps: [],
  });
  const title = await new TitleService(database, store, bus, realSurroundings).add({ name: 'Weir', kind: 'podcast' });
  const [{ id }] = await recordings.add(title.id, [{ name: 'a.wav', sha256: 'ab', sizeBytes: 1 }]);
  await database.transaction((manager) => manager.update(RecordingEntity, { id }, { status: 'ready' }));
  const [target] = await targets.list();
  const asks = { titleId: title.id, recordingIds: [id], chainId: chain.id, targetId: target.id };
  runId = (await runs.start(asks)).id;
  asked = new Promise((ask) => {
    const made = new Promise<void>((make) => {
      makeFolder = make;
    });
    store.spoolFolder = async () => {
      ask();
      await made;
      return join(folder, 'spool', 'own');
    };
  });
  const surroundings = realSurroundings;
  const renders = new RenderJobs({ database, store, bus, runs, surroundings, version: '0.0.0', report });
  work = new LocalWork(new JobStore({ database, surroundings, kinds: [renders], report, nudge: report }), store);
});
afterEach(async () => {
  await database.close();
  await rm(folder, { recursive: true });
});

const statusNow = async () => (await database.of(RunItemEntity).findOneByOrFail({ runId })).status;

it('a server that stops does not wait for a render that had not begun; the item waits for the next start', async () => {
  const taking = work.take();
  await asked;
  work.interrupt();
  makeFolder();
  const taken = (await taking)!;
  expect(taken.signal.aborted).toBe(true);
  await taken.end({ type: 'cancelled' });
  expect(await statusNow()).toBe('queued');
});

it('a run that is cancelled then is not rendered for nobody', async () => {
  const taking = work.take();
  await asked;
  await runs.cancel(runId);
  await work.abandonUnwanted();
  makeFolder();
  const taken = (await taking)!;
  expect(taken.signal.aborted).toBe(true);
  await taken.end({ type: 'cancelled' });
  expect(await statusNow()).toBe('cancelled');
});

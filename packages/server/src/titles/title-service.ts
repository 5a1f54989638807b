import { Readable } from 'node:stream';
import { type NewTitle, NO_DETAILS, type Title, type TitleChange } from '@tonos/contract';
import { pictureFrom, pictureSize } from '@tonos/formats';
import { In, IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { KeptAtMark } from '../events/kept-at-mark.ts';
import { caller, checkRole } from '../http/caller.ts';
import { checkThere, HttpProblem } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from './title-entity.ts';

export class TitleService {
  /** All that do not lie in the trash. */
  private readonly all: KeptAtMark<Title[]>;

  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
    /** Told when a title is closed, or opened again, and by whom. */
    private readonly whenClosed: (
      titleId: string,
      closed: boolean,
      byPersonId: string,
    ) => Promise<void> = async () => {},
  ) {
    this.all = new KeptAtMark(bus, async () =>
      this.describe(
        await database
          .of(TitleEntity)
          .find({ where: { trashedAt: IsNull() }, order: { createdAt: 'ASC', name: 'ASC' } }),
      ),
    );
  }

  async list(): Promise<Title[]> {
    const { sees } = caller();
    return (await this.all.get()).filter(({ id }) => sees(id));
  }

  async get(id: string): Promise<Title> {
    return this.describeOne(await this.find(id));
  }

  async add(title: NewTitle): Promise<Title> {
    const { newId, now } = this.surroundings;
    const nothing = {
      chainId: null,
      targetId: null,
      inbox: null,
      cover: null,
      details: {},
      archived: false,
      closed: false,
      approvedOnly: false,
      trashedAt: null,
    };
    const entity = { id: newId(), ...title, ...nothing, createdAt: now() };
    await this.database.transaction((manager) => manager.insert(TitleEntity, entity));
    return this.told(entity);
  }

  async change(id: string, change: TitleChange & Partial<Pick<Title, 'cover'>>): Promise<Title> {
    if (change.closed !== undefined) checkRole('lead', 'close titles');
    if (change.approvedOnly !== undefined) checkRole('lead', 'say what runs of a title need');
    const changed = await this.database.transaction(async (manager) => {
      const title = await this.find(id);
      const given = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
      return manager.save(TitleEntity, { ...title, ...given, details: { ...title.details, ...change.details } });
    });
    if (change.closed !== undefined) await this.whenClosed(id, change.closed, caller().personId);
    return this.told(changed);
  }

  /** The cover that is stored, as a file. */
  async cover(id: string): Promise<{ path: string; mediaType: string; name: string }> {
    const { cover, name } = await this.find(id);
    if (!cover) throw new HttpProblem(404, 'no-cover', `"${name}" has no cover.`);
    const { sha256, mediaType } = cover;
    return { path: this.store.pathOf(sha256), mediaType, name: `cover.${mediaType.slice('image/'.length)}` };
  }

  async setCover(id: string, bytes: Uint8Array): Promise<Title> {
    await this.find(id);
    const picture = pictureFrom(bytes);
    if (!picture)
      throw new HttpProblem(
        422,
        'no-picture',
        'The cover must be a JPEG or a PNG, and this is neither. Export it again.',
      );
    const { sha256 } = await this.store.receive(Readable.from([bytes]));
    const title = await this.change(id, { cover: { sha256, mediaType: picture.mediaType, ...pictureSize(picture)! } });
    this.store.recorded([sha256]);
    return title;
  }

  async removeCover(id: string): Promise<undefined> {
    await this.change(id, { cover: null });
  }

  private async find(id: string): Promise<TitleEntity> {
    return checkThere('title', id, await this.database.of(TitleEntity).findOneBy({ id }));
  }

  private async told(title: TitleEntity): Promise<Title> {
    this.bus.publish({ type: 'title', titleId: title.id });
    return this.describeOne(title);
  }

  private async describeOne(title: TitleEntity): Promise<Title> {
    return (await this.describe([title]))[0];
  }

  /** With what lies in them, counted at once for all from an index. */
  private async describe(titles: readonly TitleEntity[]): Promise<Title[]> {
    const query = this.database
      .of(RecordingEntity)
      .createQueryBuilder('recording')
      .select('recording.titleId', 'titleId')
      .addSelect('COUNT(*)', 'recordingCount')
      .addSelect('TOTAL("lengthSeconds")', 'totalSeconds')
      .addSelect('TOTAL("isWarned")', 'warningCount')
      .where({ titleId: In(titles.map(({ id }) => id)), trashedAt: IsNull(), superseded: false, kind: 'voice' })
      .groupBy('recording.titleId');
    const counts = await this.database.manyOf<{ titleId: string } & Counts>(query);
    const countsOf = new Map(counts.map(({ titleId, ...rest }) => [titleId, rest]));
    return titles.map(({ trashedAt: _, details, ...title }) => ({
      ...title,
      details: { ...NO_DETAILS, ...details },
      ...(countsOf.get(title.id) ?? NOTHING),
    }));
  }
}

type Counts = Pick<Title, 'recordingCount' | 'totalSeconds' | 'warningCount'>;
const NOTHING: Counts = { recordingCount: 0, totalSeconds: 0, warningCount: 0 };

import { Readable } from 'node:stream';
import type { NewTitle, Title, TitleChange } from '@tonos/contract';
import { pictureFrom, pictureSize } from '@tonos/formats';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import { HttpProblem, notFound } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from './title-entity.ts';

export class TitleService {
  constructor(
    private readonly database: Database,
    private readonly store: BlobStore,
    private readonly surroundings: Surroundings,
  ) {}

  async list(): Promise<Title[]> {
    const titles = await this.database.of(TitleEntity).find({ order: { createdAt: 'ASC', name: 'ASC' } });
    return Promise.all(titles.map((title) => this.describe(title)));
  }

  async get(id: string): Promise<Title> {
    return this.describe(await this.find(id));
  }

  async add(title: NewTitle): Promise<Title> {
    const { newId, now } = this.surroundings;
    const entity = { id: newId(), ...title, chainId: null, targetId: null, inbox: null, cover: null, createdAt: now() };
    await this.database.transaction((manager) => manager.insert(TitleEntity, entity));
    return this.describe(entity);
  }

  async change(id: string, change: TitleChange & Partial<Pick<Title, 'cover'>>): Promise<Title> {
    const title = await this.find(id);
    return this.describe(
      await this.database.transaction((manager) => manager.save(TitleEntity, { ...title, ...change })),
    );
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
    return this.change(id, { cover: { sha256, mediaType: picture.mediaType, ...pictureSize(picture)! } });
  }

  async removeCover(id: string): Promise<undefined> {
    await this.change(id, { cover: null });
  }

  private async find(id: string): Promise<TitleEntity> {
    const title = await this.database.of(TitleEntity).findOneBy({ id });
    if (!title) throw notFound('title', id);
    return title;
  }

  private async describe(title: TitleEntity): Promise<Title> {
    const counted = await this.database
      .of(RecordingEntity)
      .createQueryBuilder('recording')
      .select('COUNT(*)', 'recordingCount')
      .addSelect(`TOTAL(json_extract(recording.measurement, '$.durationSeconds'))`, 'totalSeconds')
      .addSelect(
        `TOTAL(recording.status = 'unreadable' OR json_array_length(recording.measurement, '$.warnings') > 0)`,
        'warningCount',
      )
      .where({ titleId: title.id, trashedAt: IsNull(), superseded: false })
      .getRawOne<Pick<Title, 'recordingCount' | 'totalSeconds' | 'warningCount'>>();
    return { ...title, ...counted! };
  }
}

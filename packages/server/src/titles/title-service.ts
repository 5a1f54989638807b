import type { NewTitle, Title, TitleChange } from '@tonos/contract';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import { notFound } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from './title-entity.ts';

export class TitleService {
  constructor(
    private readonly database: Database,
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
    const entity = { id: newId(), ...title, chainId: null, targetId: null, inbox: null, createdAt: now() };
    await this.database.transaction((manager) => manager.insert(TitleEntity, entity));
    return this.describe(entity);
  }

  async change(id: string, change: TitleChange): Promise<Title> {
    const title = await this.find(id);
    return this.describe(
      await this.database.transaction((manager) => manager.save(TitleEntity, { ...title, ...change })),
    );
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

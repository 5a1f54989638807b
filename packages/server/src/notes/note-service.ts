import type { NewNote, Note, NoteAbout, NoteChange, NoteQuery, OpenForMe } from '@tonos/contract';
import { In, IsNull } from 'typeorm';
import { Names } from '../account/names.ts';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller, checkRole } from '../http/caller.ts';
import { notFound } from '../http/problems.ts';
import type { People } from '../people/people.ts';
import { withOpenNotes } from '../recordings/open-notes.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { RunItemEntity } from '../runs/run-entity.ts';
import type { Surroundings } from '../surroundings.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { mentionedIn } from './mentions.ts';
import { NoteEntity } from './note-entity.ts';

/** What people say to each other about chains, steps, recordings and items; places in a recording have notes of their own. */
export class NoteService {
  private readonly names: Names;

  constructor(
    private readonly database: Database,
    private readonly people: People,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {
    this.names = new Names(database);
  }

  /** In the order in which they were written. */
  async list({ kind, id }: NoteQuery): Promise<Note[]> {
    const found = await this.database.of(NoteEntity).find({ where: { kind, aboutId: id }, order: { at: 'ASC' } });
    return found.map((row) => this.describe(row));
  }

  /** @throws HttpProblem 404 for what is not there */
  async add({ about, text }: NewNote): Promise<Note> {
    const { newId, now } = this.surroundings;
    const { name, titleId } = await this.names.of(about.kind, about.id);
    if (!name) throw notFound(about.kind, about.id);
    const row: NoteEntity = {
      id: newId(),
      kind: about.kind,
      aboutId: about.id,
      stepId: about.kind === 'chain' ? about.stepId : null,
      titleId,
      text,
      personId: caller().personId,
      at: now(),
      mentions: mentionedIn(text, this.people.list()),
      doneBy: null,
      doneAt: null,
    };
    await this.database.transaction((manager) => manager.insert(NoteEntity, row));
    return this.told(row);
  }

  /** Anybody may see to a note; what it says is its writer's to change. */
  async change(id: string, { text, done }: NoteChange): Promise<Note> {
    const row = await this.find(id);
    if (text !== undefined && row.personId !== caller().personId) checkRole('lead', 'change what somebody else wrote');
    const changed = {
      ...row,
      ...(text !== undefined && { text, mentions: mentionedIn(text, this.people.list()) }),
      ...(done !== undefined && {
        doneBy: done ? caller().personId : null,
        doneAt: done ? this.surroundings.now() : null,
      }),
    };
    await this.database.transaction((manager) => manager.save(NoteEntity, changed));
    return this.told(changed);
  }

  async remove(id: string): Promise<undefined> {
    const row = await this.find(id);
    if (row.personId !== caller().personId) checkRole('lead', 'take away what somebody else wrote');
    await this.database.transaction((manager) => manager.delete(NoteEntity, { id }));
    this.told(row);
  }

  /** What names who asks and is open still, the newest first: notes on things, and notes at places of recordings. */
  async openForMe(): Promise<OpenForMe[]> {
    const { personId, sees } = caller();
    const open = await this.database.of(NoteEntity).find({ where: { doneAt: IsNull() } });
    const mine = open.filter(
      ({ mentions, titleId }) => mentions.includes(personId) && (titleId === null || sees(titleId)),
    );
    const items = await this.database.of(RunItemEntity).find({
      where: { id: In(mine.filter(({ kind }) => kind === 'item').map(({ aboutId }) => aboutId)) },
      select: { id: true, runId: true },
    });
    const titles = await this.database
      .of(TitleEntity)
      .find({ where: { trashedAt: IsNull() }, select: { id: true, name: true } });
    const titleName = (id: string | null) => titles.find((title) => title.id === id)?.name ?? null;
    const told: OpenForMe[] = [];
    for (const row of mine)
      told.push({
        kind: row.kind,
        id: row.id,
        text: row.text,
        byName: this.people.refOf(row.personId).name,
        at: row.at,
        aboutId: row.aboutId,
        aboutName: (await this.names.of(row.kind, row.aboutId)).name,
        runId: items.find(({ id }) => id === row.aboutId)?.runId ?? null,
        titleName: titleName(row.titleId),
        atSeconds: null,
      });
    for (const { id, titleId, name, givenName, notes } of await withOpenNotes(this.database.of(RecordingEntity)))
      for (const { markId, atSeconds, text, by, at } of notes)
        if (titleName(titleId) !== null && sees(titleId) && mentionedIn(text, this.people.list()).includes(personId))
          told.push({
            kind: 'place',
            id: markId,
            text,
            byName: by,
            at,
            aboutId: id,
            aboutName: givenName || name,
            runId: null,
            titleName: titleName(titleId),
            atSeconds,
          });
    return told.sort((a, b) => b.at.localeCompare(a.at));
  }

  private async find(id: string): Promise<NoteEntity> {
    const row = await this.database.of(NoteEntity).findOneBy({ id });
    if (!row || (row.titleId !== null && !caller().sees(row.titleId))) throw notFound('note', id);
    return row;
  }

  private told(row: NoteEntity): Note {
    this.bus.publish(row.titleId === null ? { type: 'note' } : { type: 'note-in-title', titleId: row.titleId });
    return this.describe(row);
  }

  private describe({ id, kind, aboutId, stepId, text, personId, at, mentions, doneBy, doneAt }: NoteEntity): Note {
    const about: NoteAbout = { kind, id: aboutId, stepId };
    const done = doneBy !== null && doneAt !== null ? { by: this.people.refOf(doneBy), at: doneAt } : null;
    return {
      id,
      about,
      text,
      by: this.people.refOf(personId),
      at,
      mentions: mentions.map((one) => this.people.refOf(one)),
      done,
    };
  }
}

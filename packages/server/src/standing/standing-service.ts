import {
  areLabels,
  countStandings,
  type DeliveredFigures,
  type ItemStatus,
  type OutdatedBy,
  type ServerEvent,
  type Standing,
  type StandingState,
  type TitleStanding,
} from '@tonos/contract';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import { Kept } from '../database/row-cache.ts';
import type { EventBus } from '../events/event-bus.ts';
import { caller } from '../http/caller.ts';
import { JsonText } from '../http/json-text.ts';
import { checkThere } from '../http/problems.ts';
import { RunEntity } from '../runs/run-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { deliveredFigures } from './figures.ts';

/** The last item of each recording, with what it was made of and what stands now. */
interface Row {
  recordingId: string;
  itemId: string | null;
  runId: string | null;
  status: ItemStatus | null;
  accepted: number;
  olderChain: number;
  olderOrder: number;
  olderTarget: number;
  olderTake: number;
  otherMarks: number;
  otherAdjustments: number;
  otherFrozen: number;
  /** Who it was rendered with, and their cuts, as JSON. */
  mates: string | null;
}

/** So many recordings are looked at in one go: other questions are answered between. */
const PAGE = 1000;

/** Marks as recipes have them (see markedOf): notes are no part of what is rendered. */
const MARKS_RENDERED = `CASE WHEN instr(marks, '"note"') = 0 THEN marks ELSE (
    SELECT json_group_array(json(json_remove(value, '$.note'))) FROM json_each(marks)
    WHERE json_extract(value, '$.note') IS NULL OR json_extract(value, '$.chapter')
      OR json_extract(value, '$.startSeconds') != json_extract(value, '$.endSeconds')) END`;

/**
 * A page of a title's current recordings, each beside the newest item of any of its takes. What is compared is JSON that this program
 * wrote: the same content is the same text. An item that no render came of yet has no recipe, and nothing about it is out of date.
 */
const LAST_ITEMS = `
  WITH own AS (
    SELECT id, "takeOf", ${MARKS_RENDERED} AS marks, "roomToneChoice", boxes, cuts, adjustments, frozen, position FROM recording
    WHERE "titleId" = ? AND "trashedAt" IS NULL AND NOT superseded AND kind = 'voice' ORDER BY position, id LIMIT ${PAGE} OFFSET ?
  ), tries AS (
    SELECT take."takeOf", take.id AS "takeId", item.id AS "itemId", run.id AS "runId",
      row_number() OVER (PARTITION BY take."takeOf" ORDER BY run."createdAt" DESC, item.id) AS nth
    FROM own
    -- in this order: a page's own takes are looked up, and not all takes of the house gone through for each page
    CROSS JOIN recording take ON take."takeOf" = own."takeOf"
    JOIN run_item item ON item."recordingId" = take.id AND item.status != 'cancelled'
    JOIN run ON run.id = item."runId" AND run."trashedAt" IS NULL
  )
  SELECT own.id AS "recordingId", item.id AS "itemId", run.id AS "runId", item.status, item.accepted IS NOT NULL AS accepted,
    run.revision < chain.revision AS "olderChain", run.revision < running_order.revision AS "olderOrder", target.superseded AS "olderTarget", tries."takeId" != own.id AS "olderTake",
    item.recipe IS NOT NULL AND (
      json_extract(item.recipe, '$.marked.marks') != json(own.marks)
      OR json_extract(item.recipe, '$.marked.roomToneChoice') != json(own."roomToneChoice")
      OR json_extract(item.recipe, '$.marked.boxes') != json(own.boxes)
      OR coalesce(json_extract(item.recipe, '$.marked.cuts'), '[]') != json(own.cuts)) AS "otherMarks",
    item.recipe IS NOT NULL AND json_extract(item.recipe, '$.adjustments')
      != coalesce(json_extract(own.adjustments, '$."' || run."chainId" || '"'), '[]') AS "otherAdjustments",
    item.recipe IS NOT NULL AND json_extract(item.recipe, '$.set') IS NULL AND coalesce(json_extract(item.recipe, '$.frozen.sha256'), '')
      != coalesce(json_extract(own.frozen, '$."' || run."chainId" || '".sha256'), '') AS "otherFrozen",
    coalesce(json_extract(item.recipe, '$.set.others'), (
      SELECT json_extract(part.value, '$.linked.others') FROM json_each(item.recipe, '$.order.parts') part
      WHERE json_extract(part.value, '$.linked') IS NOT NULL)) AS mates
  FROM own
  LEFT JOIN tries ON tries."takeOf" = own."takeOf" AND tries.nth = 1
  LEFT JOIN run_item item ON item.id = tries."itemId"
  LEFT JOIN run ON run.id = tries."runId"
  LEFT JOIN chain ON chain.id = run."chainId"
  LEFT JOIN running_order ON running_order.id = run."orderId"
  LEFT JOIN target ON target.id = run."targetId"
  ORDER BY own.position, own.id`;

const ALL = Symbol();

/** The title of which something may have been delivered otherwise, or be out of date, since an event. */
function touchedBy(event: ServerEvent): string | typeof ALL | undefined {
  switch (event.type) {
    case 'recording':
      return event.recording.titleId;
    case 'recordings':
      return areLabels(event.changes) ? undefined : event.titleId;
    // what an item came to is told of its run as well
    case 'run':
      return event.run.titleId;
    case 'run-moved':
    case 'title':
    case 'sets':
    case 'order':
    case 'outing':
      return event.titleId;
    case 'chain':
    case 'target':
    case 'trash':
      return ALL;
    default:
      return undefined;
  }
}

/** What was delivered of each recording. Worked out for a title when it is asked for, and again when something of it has changed. */
export class StandingService {
  private readonly known = new Map<string, Promise<Kept<Standing[]>>>();

  constructor(
    private readonly database: Database,
    bus: EventBus,
  ) {
    bus.watch((event) => {
      const touched = touchedBy(event);
      if (touched === ALL) this.known.clear();
      else if (touched) this.known.delete(touched);
    });
  }

  async of(titleId: string): Promise<Standing[]> {
    return (await this.keptOf(titleId)).value;
  }

  /** As `of`, in JSON. */
  async textOf(titleId: string): Promise<JsonText<Standing[]>> {
    return new JsonText((await this.keptOf(titleId)).json);
  }

  private async keptOf(titleId: string): Promise<Kept<Standing[]>> {
    checkThere('title', titleId, await this.database.of(TitleEntity).findOneBy({ id: titleId }));
    return this.ofKnown(titleId);
  }

  /** The figures of what was delivered of a title. */
  async figures(titleId: string): Promise<DeliveredFigures[]> {
    return deliveredFigures(this.database, await this.of(titleId));
  }

  /** Of every title, counted. */
  async counted(): Promise<TitleStanding[]> {
    const titles = await this.database.of(TitleEntity).find({ where: { trashedAt: IsNull() }, select: { id: true } });
    const runs = await this.database.of(RunEntity).find({
      where: { trashedAt: IsNull() },
      select: { id: true, titleId: true, createdAt: true },
      order: { createdAt: 'ASC' },
    });
    const lastOf = new Map(runs.map((run) => [run.titleId, run]));
    const all: TitleStanding[] = [];
    const { sees } = caller();
    for (const { id: titleId } of titles.filter(({ id }) => sees(id))) {
      const last = lastOf.get(titleId);
      const counts = countStandings((await this.ofKnown(titleId)).value);
      all.push({ titleId, counts, lastRunId: last?.id ?? null, lastRunAt: last?.createdAt ?? null });
    }
    return all;
  }

  private ofKnown(titleId: string): Promise<Kept<Standing[]>> {
    const known = this.known.get(titleId);
    if (known) return known;
    const found = this.read(titleId).then((all) => new Kept(all));
    this.known.set(titleId, found);
    found.catch(() => this.known.delete(titleId));
    return found;
  }

  /** The cuts of a title's current recordings, as JSON, by their sources. */
  private async cutsBySource(titleId: string): Promise<Map<string, string>> {
    const rows = await this.database.many<{ sha256: string; cuts: string }>(
      `SELECT sha256, json(cuts) AS cuts FROM recording WHERE "titleId" = ? AND "trashedAt" IS NULL AND NOT superseded`,
      [titleId],
    );
    return new Map(rows.map(({ sha256, cuts }) => [sha256, cuts]));
  }

  private async read(titleId: string): Promise<Standing[]> {
    const all: Standing[] = [];
    for (;;) {
      const page = await this.database.many<Row>(LAST_ITEMS, [titleId, all.length]);
      const cutsOf = page.some(({ mates }) => mates) ? await this.cutsBySource(titleId) : NO_CUTS;
      all.push(...page.map((row) => standingOf({ ...row, otherMarks: row.otherMarks || matesDiffer(row, cutsOf) })));
      if (page.length < PAGE) return all;
    }
  }
}

const NO_CUTS: ReadonlyMap<string, string> = new Map();

/** What changes the time of one of a set changes all: whether its mates were cut otherwise when it was rendered. */
function matesDiffer({ mates }: Row, cutsOf: ReadonlyMap<string, string>): number {
  const others = JSON.parse(mates ?? '[]') as { sha256: string; cuts?: unknown; marked?: { cuts?: unknown } }[];
  return others.some(
    ({ sha256, cuts, marked }) => (cutsOf.get(sha256) ?? '[]') !== JSON.stringify(cuts ?? marked?.cuts ?? []),
  )
    ? 1
    : 0;
}

function standingOf(row: Row): Standing {
  const { recordingId, runId, itemId, status, accepted } = row;
  const reasons: [number, OutdatedBy][] = [
    [row.olderTake, 'take'],
    [row.olderChain, 'chain'],
    [row.olderOrder, 'order'],
    [row.olderTarget, 'target'],
    [row.otherMarks, 'marks'],
    [row.otherAdjustments, 'adjustments'],
    [row.otherFrozen, 'outside'],
  ];
  const outdatedBy = reasons.flatMap(([holds, reason]) => (holds ? [reason] : []));
  return {
    recordingId,
    runId,
    itemId,
    status,
    outdatedBy,
    state: stateOf(status, accepted === 1, outdatedBy.length > 0),
  };
}

function stateOf(status: ItemStatus | null, accepted: boolean, isOutdated: boolean): StandingState {
  if (status === null || status === 'cancelled') return 'none';
  if (status === 'queued' || status === 'working') return 'under-way';
  if (status === 'failed') return 'failed';
  if (isOutdated) return 'out-of-date';
  return status === 'off-target' && accepted ? 'accepted' : status;
}

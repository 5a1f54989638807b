import type { FileProblem, ItemPart, ItemStatus, RecipeInput, RunItem, RunStatus } from '@tonos/contract';
import type { LimitResult, Measurement, OrderFile, StepReport, TimeMap } from '@tonos/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('run')
export class RunEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  titleId!: string;

  @Column({ type: 'text', nullable: true })
  chainId!: string | null;

  @Column({ type: 'integer' })
  revision!: number;

  /** Of a run of a running order, whose revision is told above; it has no chain. */
  @Column({ type: 'text', nullable: true })
  orderId!: string | null;

  /** The order as it was when the run was started: its chains as files, and the recordings that its parts name, by part. */
  @Column({ type: 'simple-json', nullable: true, select: false })
  order!: { file: OrderFile; recordings: Record<string, string> } | null;

  @Column({ type: 'text' })
  targetId!: string;

  @Column({ type: 'text' })
  status!: RunStatus;

  /** Nothing more of it is begun until it goes on. */
  @Column({ type: 'boolean' })
  paused!: boolean;

  /** Higher ones go first; among equals the older one. */
  @Column({ type: 'integer' })
  priority!: number;

  @Column({ type: 'text' })
  createdAt!: string;

  /** Who started it, as they were called. */
  @Column({ type: 'text' })
  by!: string;

  /** What of it was not approved though its title asked for that, in sentences. */
  @Column({ type: 'simple-json' })
  unapproved!: string[];

  @Column({ type: 'text', nullable: true })
  startedAt!: string | null;

  @Column({ type: 'text', nullable: true })
  finishedAt!: string | null;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}

/** One recording in a run. */
@Entity('run_item')
export class RunItemEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  runId!: string;

  @Column({ type: 'text' })
  recordingId!: string;

  @Column({ type: 'integer' })
  position!: number;

  @Column({ type: 'text' })
  status!: ItemStatus;

  /** The number of the claim under which it is worked on: only that claim may finish it. */
  @Column({ type: 'text', nullable: true })
  lease!: string | null;

  /** Who made it, or does so now; none: this machine. */
  @Column({ type: 'simple-json', nullable: true })
  machine!: { id: string; name: string } | null;

  @Column({ type: 'simple-json', nullable: true })
  before!: Measurement | null;

  @Column({ type: 'simple-json', nullable: true })
  after!: Measurement | null;

  @Column({ type: 'simple-json', nullable: true })
  limits!: LimitResult[] | null;

  @Column({ type: 'simple-json', nullable: true })
  findings!: StepReport[] | null;

  /** What fills the places of a running order: recordings, by place. */
  @Column({ type: 'simple-json', nullable: true })
  fill!: Record<string, string> | null;

  /** Where the parts of a programme lie in the delivery. */
  @Column({ type: 'simple-json', nullable: true })
  parts!: ItemPart[] | null;

  /** Where the chapters of a programme begin in the delivery. */
  @Column({ type: 'simple-json', nullable: true, select: false })
  chapters!: { title: string; startSeconds: number }[] | null;

  /** Where the source's moments lie in the delivery; items of an earlier version have none. */
  @Column({ type: 'simple-json', nullable: true })
  timeMap!: TimeMap | null;

  @Column({ type: 'simple-json', nullable: true, select: false })
  overview!: [number, number][] | null;

  @Column({ type: 'simple-json', nullable: true })
  error!: FileProblem | null;

  @Column({ type: 'simple-json', nullable: true, select: false })
  recipe!: RecipeInput | null;

  @Column({ type: 'simple-json', nullable: true })
  accepted!: RunItem['accepted'];

  @Column({ type: 'text', nullable: true })
  outputName!: string | null;

  @Column({ type: 'text', nullable: true })
  outputSha256!: string | null;

  @Column({ type: 'integer', nullable: true })
  outputBytes!: number | null;

  @Column({ type: 'float', nullable: true })
  seconds!: number | null;

  /** Its file was cleared to save room; the recipe makes it again. */
  @Column({ type: 'boolean' })
  cleared!: boolean;

  /** It waits to be made again from its recipe, whatever has changed since. */
  @Column({ type: 'boolean' })
  remake!: boolean;
}

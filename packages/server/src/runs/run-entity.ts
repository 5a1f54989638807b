import type { FileProblem, ItemStatus, RecipeInput, RunItem, RunStatus } from '@tonos/contract';
import type { LimitResult, Measurement, StepReport, TimeMap } from '@tonos/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('run')
export class RunEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  titleId!: string;

  @Column({ type: 'text' })
  chainId!: string;

  @Column({ type: 'integer' })
  revision!: number;

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

  @Column({ type: 'text', nullable: true })
  startedAt!: string | null;

  @Column({ type: 'text', nullable: true })
  finishedAt!: string | null;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}

/** One recording in a run. While it is worked on, `lease` names the attempt: only that attempt may finish it. */
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

  @Column({ type: 'text', nullable: true })
  lease!: string | null;

  @Column({ type: 'simple-json', nullable: true })
  before!: Measurement | null;

  @Column({ type: 'simple-json', nullable: true })
  after!: Measurement | null;

  @Column({ type: 'simple-json', nullable: true })
  limits!: LimitResult[] | null;

  @Column({ type: 'simple-json', nullable: true })
  findings!: StepReport[] | null;

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

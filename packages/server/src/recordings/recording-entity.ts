import type { FileProblem, FrozenSound, Mark, RecordingKind } from '@tonos/contract';
import type { Measurement, RoomToneChoice, SpectralBox, StepAdjustment, TimeCut, TimeSpan } from '@tonos/core';
import type { Tags } from '@tonos/formats';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/**
 * No column states a default: after an insert TypeORM would read such rows again and, for several at once, could hand their
 * values to one another.
 */
@Entity('recording')
export class RecordingEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  titleId!: string;

  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'text' })
  givenName!: string;

  @Column({ type: 'text' })
  kind!: RecordingKind;

  @Column({ type: 'text' })
  licence!: string;

  @Column({ type: 'simple-json', nullable: true })
  loop!: TimeSpan | null;

  /** Counts what people change of it. */
  @Column({ type: 'integer' })
  version!: number;

  @Column({ type: 'integer' })
  position!: number;

  @Column({ type: 'text' })
  status!: 'measuring' | 'ready' | 'unreadable';

  @Column({ type: 'text' })
  speaker!: string;

  @Column({ type: 'text' })
  microphone!: string;

  @Column({ type: 'text' })
  room!: string;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;

  @Column({ type: 'text' })
  takeOf!: string;

  @Column({ type: 'boolean' })
  superseded!: boolean;

  @Column({ type: 'text' })
  sha256!: string;

  @Column({ type: 'integer' })
  sizeBytes!: number;

  @Column({ type: 'simple-json', nullable: true })
  measurement!: Measurement | null;

  @Column({ type: 'simple-json' })
  tags!: Tags;

  @Column({ type: 'simple-json' })
  marks!: Mark[];

  @Column({ type: 'simple-json' })
  roomToneChoice!: RoomToneChoice;

  @Column({ type: 'simple-json' })
  boxes!: SpectralBox[];

  @Column({ type: 'simple-json' })
  cuts!: TimeCut[];

  /** By the chain's id. */
  @Column({ type: 'simple-json' })
  adjustments!: Record<string, StepAdjustment[]>;

  /** What stands for it with a chain's first steps, by the chain's id. */
  @Column({ type: 'simple-json' })
  frozen!: Record<string, FrozenSound>;

  @Column({ type: 'simple-json', nullable: true })
  error!: FileProblem | null;

  @Column({ type: 'text' })
  createdAt!: string;

  /** Who sent it; null for what was there before people were, and for what the server brought in itself. */
  @Column({ type: 'text', nullable: true })
  personId!: string | null;

  /** It was removed for good; what is left tells items what they came from. */
  @Column({ type: 'text', nullable: true })
  removedAt!: string | null;
}
